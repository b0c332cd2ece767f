import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Stack from '@mui/material/Stack';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useParams } from 'react-router';
import { api, basedOn, unwrap, type Schemas } from '../../api/client';
import { $api, ofClass } from '../../api/queries';
import { OneOf } from '../../parts/OneOf';
import { Callout, PageContent, Read } from '../../parts/page';
import { SavedMeanwhile, type Said } from '../../parts/SavedMeanwhile';
import { Toggle } from '../../parts/Toggle';
import { useAction } from '../../parts/useAction';
import { useDirector } from '../../parts/useDirector';
import { useDraft } from '../../parts/useDraft';
import { WEEKDAYS } from '../../words/dates';

type Settings = Schemas['HomeSettings'];

/** How the class practises at home: on which days, for how long. */
export function PracticePart() {
  const { classId = '' } = useParams();
  const home = $api.useQuery('get', '/api/classes/{class}/home', ofClass(classId));
  return (
    <PageContent name="Practice week">
      <Read query={home} what="The practice week is being looked up">
        {({ set, version }) => <Fields classId={classId} now={set} version={version} />}
      </Read>
    </PageContent>
  );
}

const SITTINGS = [
  ['one', 'In one go'],
  ['moments', 'In short moments'],
] as const;

/** Numbers as they are typed. */
interface Typed {
  days: number[];
  minutes: string;
  taps: string;
  sitting: Settings['sitting'];
}

const typed = (set: Settings): Typed => ({ ...set, minutes: String(set.minutes), taps: String(set.taps) });

const read = (values: Typed): Settings => ({
  ...values,
  minutes: Number(values.minutes) || 0,
  taps: Number(values.taps) || 0,
});

/** What settings say, for comparing two. */
function says({ days, minutes, taps, sitting }: Settings): Said[] {
  return [
    ['Days', days.map((day) => WEEKDAYS[day - 1]).join(', ')],
    ['A day', `${minutes} min`],
    ['Taps', `${taps} each finger`],
    ['How', sitting === 'one' ? 'in one go' : 'in short moments'],
  ];
}

function Fields({ classId, now, version }: { classId: string; now: Settings; version: string }) {
  const draft = useDraft(typed(now), version);
  const values = draft.value;
  const action = useAction(classId);
  const director = useDirector(classId);
  const changed = JSON.stringify(read(values)) !== JSON.stringify(read(typed(now)));
  const save = async (based: string | undefined) => {
    const saved = await action.run(() =>
      unwrap(
        api.PUT('/api/classes/{class}/home', {
          params: { path: { class: classId } },
          headers: basedOn(based),
          body: read(values),
        }),
      ),
    );
    if (saved) draft.saved(values);
  };
  // What a field says itself is not said again below.
  const beside = ['days', 'minutes', 'taps'].some((field) => action.problemOf(field) !== undefined);
  const number = (key: 'minutes' | 'taps', label: string, help: string) => (
    <TextField
      label={label}
      value={values[key]}
      size="small"
      disabled={!director}
      error={action.problemOf(key) !== undefined}
      helperText={action.problemOf(key) ?? help}
      slotProps={{ htmlInput: { inputMode: 'numeric' } }}
      onChange={(event) => draft.change({ ...values, [key]: event.target.value })}
    />
  );
  const turn = (day: number) => {
    const others = values.days.filter((one) => one !== day);
    const days = others.length < values.days.length ? others : [...others, day].sort((a, b) => a - b);
    draft.change({ ...values, days });
  };
  return (
    <Box sx={{ display: 'grid', gap: 2, maxWidth: 760 }}>
      <SavedMeanwhile
        action={action}
        mine={read(values)}
        says={says}
        onMine={(based) => void save(based)}
        onTheirs={draft.drop}
      />
      <Typography>
        A day’s minutes are shared among what the child has learned so far: bow hand, finger taps, open
        strings, notes, tune. In less than 6 minutes one of them rests each day, in turn.
      </Typography>
      <Stack
        direction="row"
        spacing={1}
        useFlexGap
        role="group"
        aria-label="Days"
        sx={{ flexWrap: 'wrap', alignItems: 'center' }}
      >
        {WEEKDAYS.map((name, index) => (
          <Toggle
            key={name}
            on={values.days.includes(index + 1)}
            disabled={!director}
            onClick={() => turn(index + 1)}
          >
            {name}
          </Toggle>
        ))}
      </Stack>
      {action.problemOf('days') && <Alert severity="error">{action.problemOf('days')}</Alert>}
      <OneOf
        name="How the minutes are spent"
        value={values.sitting}
        options={SITTINGS}
        disabled={!director}
        onChoose={(sitting) => draft.change({ ...values, sitting })}
      />
      <Box sx={{ display: 'grid', gap: 2, gridTemplateColumns: { xs: '1fr', sm: '1fr 1fr' } }}>
        {number('minutes', 'Minutes a day', '3 to 60; 10 is usual for beginners.')}
        {number('taps', 'Taps of each finger', '5 to 50; 20 is usual.')}
      </Box>
      <Callout>
        Fingers press for two minutes at most, then rest; in a child’s first month for four minutes a day.
        What hurts is left out until somebody has said what was done.
      </Callout>
      {action.error && !beside && <Alert severity="error">{action.error}</Alert>}
      {director && (
        <Box>
          <Button
            variant="contained"
            loading={action.busy}
            disabled={!changed}
            onClick={() => void save(draft.basedOn)}
          >
            Save
          </Button>
        </Box>
      )}
    </Box>
  );
}
