import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import Stack from '@mui/material/Stack';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { api, basedOn, unwrap, type Schemas } from '../../api/client';
import { $api, ofClass } from '../../api/queries';
import { SavedMeanwhile, type Said } from '../../parts/SavedMeanwhile';
import { Toggle } from '../../parts/Toggle';
import { useAction } from '../../parts/useAction';
import { useDraft } from '../../parts/useDraft';
import { WEEKDAYS } from '../../words/dates';
import { languageName } from '../../words/languages';

type Agreed = Schemas['HomeAgreement'];

/** What is agreed, as it is typed: no days and no minutes are those of the class. */
interface Typed {
  days: number[];
  minutes: string;
  large: boolean;
  /** Empty for none. */
  language: string;
}

const typed = ({ days, minutes, large, language }: Agreed): Typed => ({
  days: days ?? [],
  minutes: minutes === undefined ? '' : String(minutes),
  large: large ?? false,
  language: language ?? '',
});

const read = ({ days, minutes, large, language }: Typed): Agreed => ({
  ...(days.length > 0 && { days }),
  ...(minutes.trim() !== '' && { minutes: Number(minutes) || 0 }),
  large,
  ...(language !== '' && { language }),
});

/** What is agreed, for comparing two. */
function says({ days, minutes, large, language }: Agreed): Said[] {
  return [
    ['Days', days ? days.map((day) => WEEKDAYS[day - 1]).join(', ') : 'as the class'],
    ['A day', minutes === undefined ? 'as the class' : `${minutes} min`],
    ['Card', large ? 'in large print' : 'as the others'],
    ['Also in', language === undefined ? 'no other language' : languageName(language)],
  ];
}

interface Props {
  classId: string;
  childId: string;
  agreed: Agreed;
  version: string;
}

/** What is agreed with one family instead of what the class does. */
export function Agreement({ classId, childId, agreed, version }: Props) {
  const draft = useDraft(typed(agreed), version);
  const values = draft.value;
  const action = useAction(classId);
  const save = async (based: string | undefined) => {
    const saved = await action.run(() =>
      unwrap(
        api.PUT('/api/classes/{class}/children/{child}/practice', {
          params: { path: { class: classId, child: childId } },
          headers: basedOn(based),
          body: read(values),
        }),
      ),
    );
    if (saved) draft.saved(values);
  };
  const turn = (day: number) => {
    const others = values.days.filter((one) => one !== day);
    const days = others.length < values.days.length ? others : [...others, day].sort((a, b) => a - b);
    draft.change({ ...values, days });
  };
  const wording = $api.useQuery('get', '/api/classes/{class}/home/wording', ofClass(classId));
  const languages = new Set([...Object.keys(wording.data?.languages ?? {}), values.language]);
  languages.delete('');
  const problem = action.problemOf('minutes') ?? action.problemOf('days');
  const changed = JSON.stringify(read(values)) !== JSON.stringify(read(typed(agreed)));
  return (
    <Box component="section" aria-label="Agreed with the family" sx={{ display: 'grid', gap: 1, pt: 2 }}>
      <SavedMeanwhile
        action={action}
        mine={read(values)}
        says={says}
        onMine={(based) => void save(based)}
        onTheirs={draft.drop}
      />
      <Typography variant="h3">Agreed with the family</Typography>
      <Typography>Without a day or minutes of its own, this child does as the class does.</Typography>
      <Stack
        direction="row"
        spacing={0.5}
        useFlexGap
        role="group"
        aria-label="Days of its own"
        sx={{ flexWrap: 'wrap' }}
      >
        {WEEKDAYS.map((name, index) => (
          <Toggle
            key={name}
            on={values.days.includes(index + 1)}
            onClick={() => turn(index + 1)}
            sx={{ px: 1, minWidth: 48 }}
          >
            {name}
          </Toggle>
        ))}
      </Stack>
      <Stack direction="row" spacing={1} useFlexGap sx={{ flexWrap: 'wrap', alignItems: 'flex-start' }}>
        <TextField
          label="Minutes a day"
          value={values.minutes}
          size="small"
          error={action.problemOf('minutes') !== undefined}
          placeholder="as the class"
          slotProps={{ htmlInput: { inputMode: 'numeric' }, inputLabel: { shrink: true } }}
          onChange={(event) => draft.change({ ...values, minutes: event.target.value })}
          sx={{ width: '9rem' }}
        />
        <Toggle on={values.large} onClick={() => draft.change({ ...values, large: !values.large })}>
          Card in large print
        </Toggle>
        {languages.size > 0 && (
          <TextField
            select
            label="Also in"
            value={values.language}
            size="small"
            slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
            onChange={(event) => draft.change({ ...values, language: event.target.value })}
            sx={{ minWidth: '9rem' }}
          >
            <MenuItem value="">no other language</MenuItem>
            {[...languages].map((language) => (
              <MenuItem key={language} value={language}>
                {languageName(language)}
              </MenuItem>
            ))}
          </TextField>
        )}
        <Button
          variant="contained"
          loading={action.busy}
          disabled={!changed}
          onClick={() => void save(draft.basedOn)}
        >
          Save
        </Button>
      </Stack>
      {(problem ?? action.error) && <Alert severity="error">{problem ?? action.error}</Alert>}
    </Box>
  );
}
