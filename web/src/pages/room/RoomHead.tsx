import Stack from '@mui/material/Stack';
import Box from '@mui/material/Box';
import InputBase from '@mui/material/InputBase';
import Typography from '@mui/material/Typography';
import { styled } from '@mui/material/styles';
import { useRef, type ReactNode } from 'react';
import type { Room } from '../../api/client';
import { Toggle } from '../../parts/Toggle';
import { useKeys } from '../../parts/keys';
import { weekdayWords } from '../../words/dates';
import { INSTRUMENTS } from '../../words/looks';
import { isDue } from '../../words/room';
import { capital, count } from '../../words/text';
import type { Show } from './rows';

const Line = styled('div')(({ theme }) => ({
  display: 'flex',
  flexWrap: 'wrap',
  alignItems: 'center',
  gap: theme.spacing(0.75),
  [theme.breakpoints.down('sm')]: {
    flexWrap: 'nowrap',
    overflowX: 'auto',
    margin: '0 -12px',
    padding: '3px 12px',
  },
}));

const Find = styled(InputBase)(({ theme }) => ({
  width: 190,
  height: 44,
  padding: theme.spacing(0, 1.5),
  borderRadius: 22,
  border: `1px solid ${theme.vars.palette.text.secondary}`,
  background: theme.vars.palette.background.paper,
  '& input::placeholder': { color: theme.vars.palette.text.secondary, opacity: 1 },
  '&.Mui-focused': { outline: `3px solid ${theme.vars.palette.primary.main}` },
}));

/** `36 children · meeting 17 of 60 · 71 strings in work, 11 due again · 3 not visited for 4 meetings`. */
export function summary(room: Room): string {
  const { children, meeting, mustSeeAfter } = room;
  const strings = children.flatMap((child) => child.strings);
  const inWork = strings.filter((string) => string.inWork).length;
  const due = strings.filter((string) => isDue(string.recheck)).length;
  const unseen = children.filter((child) => child.meetingsUnseen >= mustSeeAfter).length;
  const next = !meeting.today && meeting.next ? [`next on ${weekdayWords(meeting.next)}`] : [];
  return [
    count(children.length, 'child', 'children'),
    meeting.number === 0 ? 'before the first meeting' : `meeting ${meeting.number} of ${meeting.total}`,
    ...next,
    `${count(inWork, 'string')} in work, ${due} due again`,
    `${unseen} not visited for ${mustSeeAfter} meetings`,
  ].join(' · ');
}

interface Props {
  room: Room;
  title: ReactNode;
  actions: ReactNode;
  show: Show;
  onShow: (show: Show) => void;
  /** Enter in the find field. */
  onFound: () => void;
}

export function RoomHead({ room, title, actions, show, onShow, onFound }: Props) {
  const find = useRef<HTMLInputElement>(null);
  useKeys({ '/': () => find.current?.focus() });
  const toggle = <K extends keyof Show>(key: K, value: Show[K]) =>
    onShow({ ...show, [key]: show[key] === value ? undefined : value });
  return (
    <Box component="header" sx={{ display: 'grid', gap: 0.75, minWidth: 0 }}>
      <Stack
        direction="row"
        spacing={1.5}
        sx={{
          flexWrap: 'wrap',

          alignItems: 'center',
          justifyContent: 'space-between',
        }}
      >
        <Box sx={{ minWidth: 0, flex: '1 1 320px' }}>
          {title}
          <Typography sx={{ color: 'text.secondary' }}>{summary(room)}</Typography>
        </Box>
        <Stack direction="row" spacing={1} sx={{ alignItems: 'center' }}>
          {actions}
          <Find
            inputRef={find}
            value={show.name}
            placeholder="Find a child  /"
            inputProps={{ 'aria-label': 'Find a child', 'aria-keyshortcuts': '/' }}
            onChange={(event) => onShow({ ...show, name: event.target.value })}
            onKeyDown={(event) => {
              if (event.key === 'Enter') onFound();
              if (event.key === 'Escape') {
                onShow({ ...show, name: '' });
                find.current?.blur();
              }
            }}
          />
        </Stack>
      </Stack>
      <Line className="filters" role="group" aria-label="Show">
        <Toggle on={show.strand === undefined} onClick={() => onShow({ ...show, strand: undefined })}>
          All four
        </Toggle>
        {room.strands.map(({ key, name }) => (
          <Toggle key={key} on={show.strand === key} onClick={() => toggle('strand', key)}>
            {name}
          </Toggle>
        ))}
        <Box component="span" aria-hidden sx={{ width: 8, flex: 'none' }} />
        <Toggle on={show.only === 'due'} onClick={() => toggle('only', 'due')}>
          Due
        </Toggle>
        <Toggle on={show.only === 'flagged'} onClick={() => toggle('only', 'flagged')}>
          Flagged
        </Toggle>
        <Box component="span" aria-hidden sx={{ width: 8, flex: 'none' }} />
        {INSTRUMENTS.map((instrument) => (
          <Toggle
            key={instrument}
            on={show.instrument === instrument}
            onClick={() => toggle('instrument', instrument)}
          >
            {capital(instrument)}
          </Toggle>
        ))}
      </Line>
    </Box>
  );
}
