import Stack from '@mui/material/Stack';
import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { api, basedOn, unwrap, type ChildPage, type Override } from '../../api/client';
import { FileButton } from '../../parts/page';
import { SavedMeanwhile, type Said } from '../../parts/SavedMeanwhile';
import { useAction } from '../../parts/useAction';
import { useDraft } from '../../parts/useDraft';
import { without } from '../../record';
import { dayWords } from '../../words/dates';
import { AnsweredPain } from './PainNotes';

interface Props {
  classId: string;
  page: ChildPage;
  director: boolean;
  onGo: (checkpoint: string) => void;
}

/** What counts for this child alone: accommodations, its own overrides, and what hurt before. */
export function ForThisChild({ classId, page, director, onGo }: Props) {
  return (
    <Box sx={{ display: 'grid', gap: 2, px: 1, pb: 1.5 }}>
      <Box component="section" aria-label="Accommodations">
        <Typography variant="h3" component="h3">
          Accommodations
        </Typography>
        {page.accommodations.length === 0 && (
          <Typography sx={{ color: 'text.secondary' }}>
            Everything counts as for everybody.
            {director && ' Where something else should, open a checkpoint and tap “For this child”.'}
          </Typography>
        )}
        {page.accommodations.map((own) => (
          <Box key={own.checkpoint} sx={{ borderTop: 1, borderColor: 'divider', py: 0.75 }}>
            <Stack direction="row" spacing={1} sx={{ alignItems: 'center' }}>
              <Box sx={{ flex: 1 }}>
                <strong>{own.name}:</strong> {own.lookFor ?? 'does not apply'}
              </Box>
              <Button onClick={() => onGo(own.checkpoint)}>Show</Button>
            </Stack>
            <Box sx={{ color: 'text.secondary' }}>
              {own.reason !== '' && `${own.reason}. `}
              {own.made.by}, {dayWords(own.made.at)}
            </Box>
          </Box>
        ))}
      </Box>
      {page.overrides.length > 0 && <OwnWays classId={classId} page={page} director={director} />}
      <AnsweredPain pain={page.pain} />
      {director && <Everything of={`/api/classes/${classId}/children/${page.child.id}`} />}
    </Box>
  );
}

/** For a family that asks what is kept. */
function Everything({ of }: { of: string }) {
  return (
    <Box component="section" aria-label="Everything that is kept">
      <Typography variant="h3">Everything that is kept</Typography>
      <Typography sx={{ color: 'text.secondary', mb: 0.75 }}>
        For a family that asks. Read the notes before you hand it out.
      </Typography>
      <Stack direction="row" spacing={1} useFlexGap sx={{ flexWrap: 'wrap' }}>
        <FileButton href={`${of}/record.pdf`}>To print (PDF)</FileButton>
        <FileButton href={`${of}/record.json`}>As data (JSON)</FileButton>
      </Stack>
    </Box>
  );
}

/** The option of a choice, by name. */
function optionName({ choice }: Override, id: string): string {
  return choice.options.find((option) => option.id === id)?.name ?? id;
}

/** The child's own way by choice. */
type Ways = Record<string, string>;

function OwnWays({ classId, page, director }: Omit<Props, 'onGo'>) {
  const action = useAction(classId);
  const own = Object.fromEntries(
    page.overrides.flatMap((override) => (override.own ? [[override.choice.key, override.own]] : [])),
  );
  const draft = useDraft<Ways>(own, page.overridesVersion);
  const save = async (choices: Ways, version: string | undefined) => {
    const saved = await action.run(() =>
      unwrap(
        api.PUT('/api/classes/{class}/children/{child}/overrides', {
          params: { path: { class: classId, child: page.child.id } },
          headers: basedOn(version),
          body: { choices },
        }),
      ),
    );
    if (saved) draft.saved(choices);
  };
  const take = (key: string, option: string) => {
    const others = without(draft.value, key);
    const choices = option ? { ...others, [key]: option } : others;
    draft.change(choices);
    return save(choices, draft.basedOn);
  };
  const says = (ways: Ways): Said[] =>
    page.overrides.map((override) => {
      const way = ways[override.choice.key];
      return [override.choice.name, way ? optionName(override, way) : 'as the class'];
    });
  const [all, setAll] = useState(false);
  const shown = all ? page.overrides : page.overrides.filter((override) => override.own);
  if (shown.length === 0 && !director) return null;
  return (
    <Box component="section" aria-label="Own ways">
      <Typography variant="h3" component="h3" sx={{ pb: 1 }}>
        Own ways
      </Typography>
      <Box sx={{ display: 'grid', gap: 1.5 }}>
        {shown.map((override) => (
          <TextField
            key={override.choice.key}
            select
            size="small"
            label={override.choice.name}
            value={draft.value[override.choice.key] ?? ''}
            disabled={!director || action.busy}
            slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
            helperText={
              override.own ? override.choice.options.find(({ id }) => id === override.own)?.means : undefined
            }
            onChange={(event) => void take(override.choice.key, event.target.value)}
          >
            <MenuItem value="">As the class: {optionName(override, override.choice.chosen)}</MenuItem>
            {override.choice.options
              .filter(({ id }) => id !== override.choice.chosen)
              .map((option) => (
                <MenuItem key={option.id} value={option.id}>
                  {option.name}
                </MenuItem>
              ))}
          </TextField>
        ))}
      </Box>
      {director && !all && (
        <Button variant="outlined" onClick={() => setAll(true)} sx={{ mt: shown.length > 0 ? 1 : 0 }}>
          Another way for this child
        </Button>
      )}
      {action.error && (
        <Alert severity="error" sx={{ mt: 1 }}>
          {action.error}
        </Alert>
      )}
      <SavedMeanwhile
        action={action}
        mine={draft.value}
        says={says}
        onMine={(version) => void save(draft.value, version)}
        onTheirs={draft.drop}
      />
    </Box>
  );
}
