import Stack from '@mui/material/Stack';
import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { useParams } from 'react-router';
import { api, basedOn, unwrap, type Schemas } from '../../api/client';
import { $api, ofClass } from '../../api/queries';
import { Toggle } from '../../parts/Toggle';
import { FileButton, PageContent, Read } from '../../parts/page';
import { SavedMeanwhile, type Said } from '../../parts/SavedMeanwhile';
import { useDraft } from '../../parts/useDraft';
import { useDirector } from '../../parts/useDirector';
import { useAction } from '../../parts/useAction';
import { WEEKDAYS, weekdayWords } from '../../words/dates';
import { count } from '../../words/text';
import { CalendarAddress } from './CalendarAddress';
import { DaysOffFile } from './DaysOffFile';

type Calendar = Schemas['CalendarView'];
type Answer = Schemas['CalendarAnswer'];

/** When the class meets: weekdays, days off, short days. */
export function CalendarPart() {
  const { classId = '' } = useParams();
  const calendar = $api.useQuery('get', '/api/classes/{class}/calendar', ofClass(classId));
  return (
    <PageContent name="Calendar">
      <Read query={calendar} what="The calendar is being looked up">
        {(read) => <Fields classId={classId} answer={read} />}
      </Read>
    </PageContent>
  );
}

/** What a calendar says, for comparing two. */
function says(set: Calendar): Said[] {
  const off = set.daysOff.map(({ day, reason = '' }) => [weekdayWords(day), `off ${reason}`] as const);
  const short = set.shortDays.map(
    ({ day, minutes }) => [`${weekdayWords(day)}, looking`, `${minutes} min`] as const,
  );
  return [
    ['First day', weekdayWords(set.firstDay)],
    ['Last day', weekdayWords(set.lastDay)],
    ['Meets on', set.meetingDays.map((day) => WEEKDAYS[day - 1]).join(', ')],
    ...off,
    ...short,
  ];
}

function Fields({ classId, answer }: { classId: string; answer: Answer }) {
  const director = useDirector(classId);
  const draft = useDraft<Calendar>(answer.set, answer.version);
  const { value: set, change: setSet } = draft;
  const action = useAction(classId);
  const changed = JSON.stringify(set) !== JSON.stringify(answer.set);
  const save = async (version: string | undefined) => {
    const saved = await action.run(() =>
      unwrap(
        api.PUT('/api/classes/{class}/calendar', {
          params: { path: { class: classId } },
          headers: basedOn(version),
          body: set,
        }),
      ),
    );
    if (saved) draft.saved(set);
  };
  const next = answer.meetings.filter((day) => day >= answer.today);

  const toggle = (day: number) => {
    const days = set.meetingDays.includes(day)
      ? set.meetingDays.filter((other) => other !== day)
      : [...set.meetingDays, day].sort((a, b) => a - b);
    setSet({ ...set, meetingDays: days });
  };

  return (
    <Box sx={{ display: 'grid', gap: 2.5, maxWidth: 760 }}>
      <Stack direction="row" spacing={1.5} sx={{ flexWrap: 'wrap', alignItems: 'center' }}>
        <Typography sx={{ flex: 1, minWidth: 240 }}>
          {count(answer.meetings.length, 'meeting')} in all, {next.length} still to come. No observation
          changes with the calendar; what is due follows anew.
        </Typography>
        <FileButton href={`/api/classes/${classId}/calendar.ics`}>Calendar file</FileButton>
        {director && (
          <Button
            variant="contained"
            disabled={!changed}
            loading={action.busy}
            onClick={() => void save(draft.basedOn)}
          >
            Save the calendar
          </Button>
        )}
      </Stack>
      {action.error && <Alert severity="error">{action.error}</Alert>}
      <SavedMeanwhile
        action={action}
        mine={set}
        says={says}
        onMine={(version) => void save(version)}
        onTheirs={draft.drop}
      />
      <Stack direction="row" spacing={0.75} role="group" aria-label="Meets on" sx={{ flexWrap: 'wrap' }}>
        {WEEKDAYS.map((name, index) => (
          <Toggle
            key={name}
            disabled={!director}
            on={set.meetingDays.includes(index + 1)}
            onClick={() => toggle(index + 1)}
          >
            {name}
          </Toggle>
        ))}
      </Stack>
      <Stack direction="row" spacing={2} sx={{ flexWrap: 'wrap' }}>
        {(['firstDay', 'lastDay'] as const).map((key) => (
          <TextField
            key={key}
            type="date"
            size="small"
            label={key === 'firstDay' ? 'First day' : 'Last day'}
            value={set[key]}
            disabled={!director}
            error={action.problemOf(key) !== undefined}
            helperText={action.problemOf(key) ?? ''}
            slotProps={{ inputLabel: { shrink: true } }}
            onChange={(event) => setSet({ ...set, [key]: event.target.value })}
          />
        ))}
      </Stack>
      <Days
        title="Days off"
        none="None yet: every meeting day counts."
        days={set.daysOff.map(({ day, reason = '' }) => ({ day, words: reason }))}
        director={director}
        onAdd={(day, reason) =>
          setSet({ ...set, daysOff: [...set.daysOff.filter((off) => off.day !== day), { day, reason }] })
        }
        onRemove={(day) => setSet({ ...set, daysOff: set.daysOff.filter((off) => off.day !== day) })}
      />
      {director && (
        <DaysOffFile
          classId={classId}
          onFound={(days) => {
            const known = new Set(set.daysOff.map(({ day }) => day));
            setSet({ ...set, daysOff: [...set.daysOff, ...days.filter(({ day }) => !known.has(day))] });
          }}
        />
      )}
      <Days
        title="Short days"
        none="None: every meeting leaves the usual minutes."
        minutes
        days={set.shortDays.map(({ day, minutes, reason = '' }) => ({
          day,
          words: `${minutes} min for looking${reason && `, ${reason}`}`,
        }))}
        director={director}
        onAdd={(day, reason, minutes) =>
          setSet({
            ...set,
            shortDays: [...set.shortDays.filter((short) => short.day !== day), { day, minutes, reason }],
          })
        }
        onRemove={(day) => setSet({ ...set, shortDays: set.shortDays.filter((short) => short.day !== day) })}
      />
      {director && <CalendarAddress classId={classId} />}
    </Box>
  );
}

interface DaysProps {
  title: string;
  none: string;
  days: { day: string; words: string }[];
  minutes?: boolean;
  director: boolean;
  onAdd: (day: string, reason: string, minutes: number) => void;
  onRemove: (day: string) => void;
}

/** A list of days with their reasons, and one more. */
function Days({ title, none, days, minutes = false, director, onAdd, onRemove }: DaysProps) {
  const [day, setDay] = useState('');
  const [reason, setReason] = useState('');
  const [many, setMany] = useState('5');
  const inOrder = days.toSorted((a, b) => (a.day < b.day ? -1 : 1));
  return (
    <Box component="section" aria-label={title} sx={{ display: 'grid', gap: 1 }}>
      <Typography variant="h2">{title}</Typography>
      {inOrder.length === 0 && <Typography>{none}</Typography>}
      <Box component="ul" sx={{ m: 0, p: 0, listStyle: 'none' }}>
        {inOrder.map((one) => (
          <Stack
            direction="row"
            spacing={1.5}
            component="li"
            key={one.day}
            sx={{ alignItems: 'center', minHeight: 44 }}
          >
            <Box sx={{ minWidth: 110 }}>{weekdayWords(one.day)}</Box>
            <Box sx={{ flex: 1 }}>{one.words}</Box>
            {director && (
              <Button aria-label={`Remove ${weekdayWords(one.day)}`} onClick={() => onRemove(one.day)}>
                Remove
              </Button>
            )}
          </Stack>
        ))}
      </Box>
      {director && (
        <Stack direction="row" spacing={1} sx={{ flexWrap: 'wrap', alignItems: 'center' }}>
          <TextField
            type="date"
            size="small"
            label={`${title}: day`}
            value={day}
            slotProps={{ inputLabel: { shrink: true } }}
            onChange={(event) => setDay(event.target.value)}
          />
          {minutes && (
            <TextField
              size="small"
              label="Minutes"
              value={many}
              sx={{ width: 110 }}
              slotProps={{ htmlInput: { inputMode: 'numeric' } }}
              onChange={(event) => setMany(event.target.value)}
            />
          )}
          <TextField
            size="small"
            label={`${title}: reason`}
            value={reason}
            slotProps={{ htmlInput: { maxLength: 80 } }}
            onChange={(event) => setReason(event.target.value)}
          />
          <Button
            variant="outlined"
            disabled={day === '' || (minutes && !/^\d{1,3}$/.test(many))}
            onClick={() => {
              onAdd(day, reason.trim(), Number(many));
              setDay('');
              setReason('');
            }}
          >
            Add
          </Button>
        </Stack>
      )}
    </Box>
  );
}
