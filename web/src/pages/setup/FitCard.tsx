import Stack from '@mui/material/Stack';
import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useEffect, useMemo, useRef, useState, type SyntheticEvent } from 'react';
import { api, unwrap, type FitChild, type Measure, type Measures, type Schemas } from '../../api/client';
import { useCore } from '../../core/door';
import { OneOf } from '../../parts/OneOf';
import { dayWords } from '../../words/dates';
import { MEASURES, sizeReason } from '../../words/measures';
import { FoundFields } from './FoundFields';
import { Callout, Card } from '../../parts/page';
import { fromMm, length, toMm, useUnit, type Unit } from '../../parts/units';
import { useAction } from '../../parts/useAction';
import { useIdFor } from '../../parts/useIdFor';
import { SetupCard } from './SetupCard';

interface Props {
  classId: string;
  child: FitChild;
  /** Where in the line: `3 of 36 children`. */
  place: string;
  today: string;
  /** What is known of its instrument. */
  facts: Record<string, never>;
  /** In which way the class goes about the pin. */
  pinWay: string;
  /** What the class chose where teachers disagree about this instrument. */
  ways: Schemas['ChoiceView'][];
  mayChange: boolean;
  onNext: () => void;
  onPrevious: () => void;
}

type Typed = Partial<Record<Measure, string>>;

function typedOf(child: FitChild, unit: Unit): Typed {
  return Object.fromEntries(child.wanted.map((key) => [key, fromMm(child.measures[key], unit)]));
}

/** So many days after a day, as a date. */
function daysAfter(day: string, days: number): string {
  const date = new Date(`${day}T12:00:00Z`);
  date.setUTCDate(date.getUTCDate() + days);
  return date.toISOString().slice(0, 10);
}

/** One child, large: measures, the size they propose, the set-up card. */
export function FitCard({
  classId,
  child,
  place,
  today,
  facts,
  pinWay,
  ways,
  mayChange,
  onNext,
  onPrevious,
}: Props) {
  const [unit, setUnit] = useUnit();
  const [typed, setTyped] = useState<Typed>(() => typedOf(child, unit));
  const action = useAction(classId);
  const ids = useIdFor();
  // The next child of the line is measured at once: its first field has the focus.
  const first = useRef<HTMLInputElement>(null);
  useEffect(() => first.current?.focus(), []);

  const measures: Measures = Object.fromEntries(
    child.wanted.flatMap((key) => {
      const mm = toMm(typed[key] ?? '', unit);
      return mm === undefined ? [] : [[key, mm]];
    }),
  );
  const ask = useCore();
  const { has, instrument } = child;
  // The size of what it has, where that is of its instrument; else the size proposed.
  const size = has?.instrument === instrument ? has.size : undefined;
  const asked = JSON.stringify(measures);
  const fit = useMemo(
    () =>
      ask('fit', {
        facts,
        measures: JSON.parse(asked) as Measures,
        pinWay,
        ...(size !== undefined && { size }),
      }),
    [ask, facts, asked, pinWay, size],
  );
  const changed = child.wanted.filter(
    (key) => measures[key] !== undefined && measures[key] !== child.measures[key],
  );

  const turn = (next: Unit) => {
    setTyped(
      Object.fromEntries(child.wanted.map((key) => [key, fromMm(toMm(typed[key] ?? '', unit), next)])),
    );
    setUnit(next);
  };
  const save = async (event: SyntheticEvent) => {
    event.preventDefault();
    const fresh = Object.fromEntries(changed.map((key) => [key, measures[key]]));
    const kept =
      changed.length === 0 ||
      (await action.run(() =>
        unwrap(
          api.POST('/api/classes/{class}/children/{child}/measurings', {
            params: { path: { class: classId, child: child.id } },
            body: { id: ids.idFor({ child: child.id, ...fresh }), ...fresh },
          }),
        ),
      ));
    if (kept) {
      ids.done();
      onNext();
    }
  };

  const { proposal } = fit;
  return (
    <Box sx={{ display: 'grid', gap: 2, maxWidth: 760 }}>
      <Stack direction="row" spacing={1.5} sx={{ flexWrap: 'wrap', alignItems: 'center' }}>
        <Box sx={{ flex: 1, minWidth: 200 }}>
          <Typography variant="h1" component="h2">
            {child.name}
          </Typography>
          <Typography sx={{ color: 'text.secondary' }}>
            {child.instrument}, {place}
            {child.has && `, has ${child.has.tag} (${child.has.size})`}
          </Typography>
        </Box>
        <OneOf
          name="Unit"
          value={unit}
          options={[
            ['mm', 'mm'],
            ['in', 'in'],
          ]}
          onChoose={turn}
        />
      </Stack>
      <Card>
        <Box
          component="form"
          noValidate
          onSubmit={(event) => void save(event)}
          sx={{ display: 'grid', gap: 2 }}
        >
          <Box sx={{ display: 'grid', gap: 2, gridTemplateColumns: { xs: '1fr', sm: '1fr 1fr' } }}>
            {child.wanted.map((key, index) => {
              const wrong = typed[key] ? (fit.problems[key] ?? action.problemOf(key)) : undefined;
              return (
                <TextField
                  key={key}
                  label={`${MEASURES[key].name}, ${unit}`}
                  value={typed[key] ?? ''}
                  disabled={!mayChange}
                  inputRef={index === 0 ? first : undefined}
                  error={wrong !== undefined}
                  helperText={wrong ?? MEASURES[key].how}
                  slotProps={{
                    htmlInput: { inputMode: 'decimal', autoComplete: 'off', style: { fontSize: '1.5rem' } },
                  }}
                  onChange={(event) => setTyped({ ...typed, [key]: event.target.value })}
                />
              );
            })}
          </Box>
          <Box role="status" sx={{ minHeight: 78 }}>
            {proposal && (
              <>
                <Typography sx={{ fontSize: '1.6rem', fontWeight: 700, lineHeight: 1.2 }}>
                  {proposal.proposed
                    ? `${child.instrument.charAt(0).toUpperCase()}${child.instrument.slice(1)} ${proposal.proposed}`
                    : 'Too small to fit'}
                  {proposal.between && `, between sizes`}
                </Typography>
                <Typography>{sizeReason(proposal, (mm) => length(mm, unit))}</Typography>
                {proposal.between && proposal.larger && (
                  <Typography>
                    {proposal.larger} in about {proposal.reachesLargerInDays} days, around{' '}
                    {dayWords(daysAfter(today, proposal.reachesLargerInDays ?? 0))}.
                  </Typography>
                )}
              </>
            )}
            {!proposal && (
              <Typography sx={{ color: 'text.secondary' }}>The size appears as you type.</Typography>
            )}
          </Box>
          {action.error && <Alert severity="error">{action.error}</Alert>}
          <Stack direction="row" spacing={1}>
            <Button onClick={onPrevious}>Previous</Button>
            <Button type="submit" variant="contained" loading={action.busy} size="large">
              {changed.length > 0 ? 'Save, next' : 'Next'}&ensp;↵
            </Button>
          </Stack>
        </Box>
      </Card>
      <Callout>
        Numbers are a starting point: the shop and the child’s comfort decide. Between two sizes take the
        smaller.
      </Callout>
      <SetupCard child={child} numbers={fit.numbers} unit={unit} ways={ways} />
      {mayChange && <FoundFields classId={classId} child={child} unit={unit} />}
    </Box>
  );
}
