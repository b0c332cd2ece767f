import Stack from '@mui/material/Stack';
import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useParams } from 'react-router';
import { api, basedOn, unwrap, type Schemas } from '../../api/client';
import { $api, ofClass } from '../../api/queries';
import { PageContent, Read } from '../../parts/page';
import { SavedMeanwhile, type Said } from '../../parts/SavedMeanwhile';
import { useDraft } from '../../parts/useDraft';
import { useDirector } from '../../parts/useDirector';
import { useAction } from '../../parts/useAction';

type Rhythm = Schemas['RhythmView'];

/** Every field: key, what it is, what it is for. */
const FIELDS = [
  ['alone', 'What stands at Alone', 'Looked at again after so many meetings.'],
  ['lasting', 'What is Lasting', 'Looked at again after so many meetings.'],
  ['longest', 'The longest wait', 'Each further Lasting doubles the wait, up to this.'],
  ['tapesFirst', 'Tapes just laid or heard', 'Looked at again after so many meetings.'],
  ['tapesLater', 'Tapes that held once', 'Looked at again after so many meetings.'],
  ['mustSeeAfter', 'A child not looked at', 'Must be seen after so many meetings.'],
  ['visitSeconds', 'Seconds to the next child', 'To walk there and say hello, in a round.'],
  ['maxChecks', 'Checks at one visit', 'At most so many things are looked at, in a round.'],
] as const;

/** How soon things are looked at again, counted in meetings of the class. */
export function RhythmPart() {
  const { classId = '' } = useParams();
  const rhythm = $api.useQuery('get', '/api/classes/{class}/rhythm', ofClass(classId));
  return (
    <PageContent name="Rhythm">
      <Read query={rhythm} what="The rhythm is being looked up">
        {(read) => <Fields classId={classId} now={read.now} version={read.version} usual={read.usual} />}
      </Read>
    </PageContent>
  );
}

/** Numbers as they are typed. */
type Typed = Record<string, string>;

function typed(rhythm: Rhythm): Typed {
  return Object.fromEntries(FIELDS.map(([key]) => [key, String(rhythm[key])]));
}

function read(values: Typed): Rhythm {
  const number = (key: string) => Number(values[key]) || 0;
  return {
    alone: number('alone'),
    lasting: number('lasting'),
    longest: number('longest'),
    tapesFirst: number('tapesFirst'),
    tapesLater: number('tapesLater'),
    mustSeeAfter: number('mustSeeAfter'),
    visitSeconds: number('visitSeconds'),
    maxChecks: number('maxChecks'),
  };
}

/** What a rhythm says, for comparing two. */
function says(values: Typed): Said[] {
  const unit = (key: string) => ({ visitSeconds: 's', maxChecks: 'checks' })[key] ?? 'meetings';
  return FIELDS.map(([key, label]) => [label, `${values[key] ?? ''} ${unit(key)}`] as const);
}

interface Props {
  classId: string;
  now: Rhythm;
  version: string;
  usual: Rhythm;
}

function Fields({ classId, now, version, usual }: Props) {
  const draft = useDraft(typed(now), version);
  const values = draft.value;
  const action = useAction(classId);
  const director = useDirector(classId);
  const changed = JSON.stringify(read(values)) !== JSON.stringify(now);
  const field = (key: string, label: string, problem: string | undefined, help = '') => (
    <TextField
      key={key}
      label={label}
      value={values[key] ?? ''}
      size="small"
      disabled={!director}
      error={problem !== undefined}
      helperText={problem ?? help}
      slotProps={{ htmlInput: { inputMode: 'numeric' } }}
      onChange={(event) => draft.change({ ...values, [key]: event.target.value })}
    />
  );
  const save = async (version: string | undefined) => {
    const saved = await action.run(() =>
      unwrap(
        api.PUT('/api/classes/{class}/rhythm', {
          params: { path: { class: classId } },
          headers: basedOn(version),
          body: read(values),
        }),
      ),
    );
    if (saved) draft.saved(values);
  };
  return (
    <Box sx={{ display: 'grid', gap: 2, maxWidth: 760 }}>
      <SavedMeanwhile
        action={action}
        mine={read(values)}
        says={(rhythm) => says(typed(rhythm))}
        onMine={(version) => void save(version)}
        onTheirs={draft.drop}
      />
      <Typography>
        Everything is counted in meetings of this class: nothing comes due in a holiday. What is below Alone
        is in work and has no clock; what stands is looked at again, after a slip at the next meeting. No
        observation changes; what is due follows anew.
      </Typography>
      <Box
        sx={{
          display: 'grid',
          gap: 2,
          gridTemplateColumns: { xs: 'minmax(0, 1fr)', sm: 'repeat(2, minmax(0, 1fr))' },
        }}
      >
        {FIELDS.map(([key, label, help]) => field(key, label, action.problemOf(key), help))}
      </Box>
      {action.error && <Alert severity="error">{action.error}</Alert>}
      {director && (
        <Stack direction="row" spacing={1} sx={{ flexWrap: 'wrap' }}>
          <Button
            variant="contained"
            loading={action.busy}
            disabled={!changed}
            onClick={() => void save(draft.basedOn)}
          >
            Save
          </Button>
          <Button disabled={action.busy} onClick={() => draft.change(typed(usual))}>
            The usual rhythm
          </Button>
        </Stack>
      )}
    </Box>
  );
}
