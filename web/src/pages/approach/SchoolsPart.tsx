import Stack from '@mui/material/Stack';
import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useParams } from 'react-router';
import { api, asError, unwrap, type Choice, type Schemas } from '../../api/client';
import { $api, drawingsQuery, ofClass } from '../../api/queries';
import { OneOf } from '../../parts/OneOf';
import { PageContent, Read } from '../../parts/page';
import { useDirector } from '../../parts/useDirector';
import { useAction } from '../../parts/useAction';
import { without } from '../../record';
import { count } from '../../words/text';
import { Changes } from './Changes';
import { ChoiceCard } from './ChoiceCard';

type Approach = Schemas['ApproachView'];

/** Where teachers disagree: what the class chose, what each way means, and what a change would change. */
export function SchoolsPart() {
  const { classId = '' } = useParams();
  const approach = $api.useQuery('get', '/api/classes/{class}/approach', ofClass(classId));
  return (
    <Read query={approach} what="The schools are being looked up">
      {(read) => <Schools classId={classId} approach={read} />}
    </Read>
  );
}

/** The groups in their order. */
function groupsOf(choices: Choice[]): string[] {
  return [...new Set(choices.map(({ group }) => group))];
}

function Schools({ classId, approach }: { classId: string; approach: Approach }) {
  const groups = groupsOf(approach.choices);
  const [group, setGroup] = useState(groups[0] ?? '');
  const [draft, setDraft] = useState<Record<string, string>>({});
  const [turnsOn, setTurnsOn] = useState<Record<string, string>>({});
  const action = useAction(classId);
  const changes = new Set([...Object.keys(draft), ...Object.keys(turnsOn)]).size;
  const changed = changes > 0;
  const body = { choices: draft, turnsOn };
  const preview = $api.useQuery(
    'post',
    '/api/classes/{class}/approach/preview',
    { ...ofClass(classId), body },
    { enabled: changed },
  );
  const director = useDirector(classId);
  const drawings = useQuery(drawingsQuery(classId)).data?.class;
  const discard = () => {
    setDraft({});
    setTurnsOn({});
  };
  const take = (choice: Choice, option: string) => {
    setTurnsOn((all) => without(all, choice.key));
    setDraft((all) => {
      const others = without(all, choice.key);
      return option === choice.chosen ? others : { ...others, [choice.key]: option };
    });
  };
  const keep = async () => {
    const kept = await action.run(() =>
      unwrap(
        api.PUT('/api/classes/{class}/approach', {
          params: { path: { class: classId } },
          body,
        }),
      ),
    );
    if (kept) discard();
  };
  return (
    <Stack sx={{ height: '100%', minHeight: 0 }}>
      <Box sx={{ flex: 1, minHeight: 0 }}>
        <PageContent
          name="Choices"
          bar={
            <OneOf
              name="Groups"
              value={group}
              options={groups.map((name) => [name, name] as const)}
              onChoose={setGroup}
            />
          }
        >
          <Box
            sx={{
              display: 'grid',
              gap: 1.5,
              alignItems: 'start',
              gridTemplateColumns: { xs: 'minmax(0, 1fr)', md: 'repeat(2, minmax(0, 1fr))' },
              maxWidth: 1180,
            }}
          >
            {approach.choices
              .filter((choice) => choice.group === group)
              .map((choice) => (
                <ChoiceCard
                  key={choice.key}
                  choice={choice}
                  drawings={drawings}
                  chosen={draft[choice.key] ?? choice.chosen}
                  overrides={approach.overrides[choice.key] ?? 0}
                  disabled={!director}
                  turnsOn={turnsOn[choice.key]}
                  onChoose={(option) => take(choice, option)}
                  onTurn={(day) => setTurnsOn((all) => ({ ...all, [choice.key]: day }))}
                />
              ))}
          </Box>
        </PageContent>
      </Box>
      {changed && (
        <Stack
          component="section"
          aria-label="Before it is kept"
          sx={{
            borderTop: 2,
            borderColor: 'divider',
            bgcolor: 'background.paper',
            px: { xs: 1.5, sm: 2 },
            py: 1,
            maxHeight: '45%',
          }}
        >
          <Stack direction="row" spacing={1} sx={{ flexWrap: 'wrap', alignItems: 'center' }}>
            <Typography role="status" sx={{ flex: 1, minWidth: 200 }}>
              {preview.data
                ? preview.data.changes.length === 0
                  ? 'No look-for reads otherwise; suggestions, lessons and practice follow.'
                  : `${count(preview.data.changes.length, 'text')} would read otherwise. No observation changes.`
                : 'Looking at what would change …'}
            </Typography>
            <Button disabled={action.busy} onClick={discard}>
              Discard
            </Button>
            <Button variant="contained" loading={action.busy} onClick={() => void keep()}>
              {count(changes, 'change')}: save
            </Button>
          </Stack>
          {(action.error ?? preview.error) && (
            <Alert severity="error">{action.error ?? asError(preview.error).message}</Alert>
          )}
          {preview.data && preview.data.changes.length > 0 && (
            <Box sx={{ overflow: 'auto' }} tabIndex={0} role="region" aria-label="Texts">
              <Changes changes={preview.data.changes} />
            </Box>
          )}
        </Stack>
      )}
    </Stack>
  );
}
