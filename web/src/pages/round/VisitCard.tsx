import Stack from '@mui/material/Stack';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import InputBase from '@mui/material/InputBase';
import Typography from '@mui/material/Typography';
import { useRef, useState } from 'react';
import { useParams } from 'react-router';
import type { Check, RoundChild } from '../../api/client';
import { FromHome } from '../../parts/FromHome';
import { Toggle } from '../../parts/Toggle';
import { useKeys } from '../../parts/keys';
import { Callout } from '../../parts/page';
import { whyWords } from '../../words/next';
import { ALL_SAYS, PAIN_NOW, SAYS, SORE_TIPS_NOW } from '../../words/looks';
import { visitWords } from '../../words/room';
import { CheckCard } from './CheckCard';
import { useVisit } from './useVisit';
import { VisitEar } from './VisitEar';
import type { Round } from './useRound';
import { lookIn, type RoundState, type Stop } from './walk';

/** What appears below the last line is scrolled to: nothing above it moves under the thumb. */
function intoView(element: HTMLElement | null): void {
  element?.scrollIntoView({ block: 'nearest' });
}

interface Props {
  round: Round;
  state: RoundState;
  stop: Stop;
  child: RoundChild;
  /** Who comes next, for the key's name. */
  next: string | undefined;
  onChecks: (checks: string[]) => void;
  onSwap: (() => void) | undefined;
  onLeave: () => void;
}

/** One child: what to look at, in reach of one thumb. */
export function VisitCard({ round, state, stop, child, next, onChecks, onSwap, onLeave }: Props) {
  const { classId = '' } = useParams();
  const visit = useVisit(round, state, child);
  // What stood there when the card was opened; the first observations change what the server says of it.
  const [before] = useState(() => levelsOf(child));
  // The kit is read again while observations come in: a check that was begun stays as it was.
  const [known] = useState(
    () => new Map([...child.checks, ...child.closeUp].map((check) => [check.target, check])),
  );
  const checks = stop.checks.flatMap((target): Check[] => {
    const check = known.get(target) ?? lookIn(child, target);
    return check ? [check] : [];
  });
  const [selected, setSelected] = useState(0);
  const [noting, setNoting] = useState(false);
  const [hearing, setHearing] = useState(false);
  const [home, setHome] = useState(false);
  const noteRef = useRef<HTMLTextAreaElement>(null);
  const others = [...child.checks, ...child.closeUp].filter(({ target }) => !stop.checks.includes(target));
  const [more, setMore] = useState(false);

  const leave = (kind: 'visited' | 'skipped' | 'absent') => {
    const looked = checks.flatMap((check) => [check.target, ...check.items.map(({ id }) => id)]);
    const recorded = looked.filter((target) => visit.of(target));
    const then = Object.fromEntries(
      recorded.flatMap((id) => (before[id] === undefined ? [] : [[id, before[id]]])),
    );
    const words = { visited: 'visited', skipped: 'passed over', absent: 'absent' }[kind];
    round.about(
      state,
      kind,
      [child.id],
      `${child.name}: ${words}`,
      kind === 'visited' ? { before: then } : {},
    );
    onLeave();
  };
  const done = () => leave(visit.anything ? 'visited' : 'skipped');
  const observe = (level: number) => {
    const check = checks[selected];
    const [item] = check?.items ?? [];
    if (!check) return;
    if (check.kind === 'stage') visit.holds(check);
    else if (item) visit.level(check, item, check.kind === 'tapes' ? (level >= 3 ? 3 : 0) : level);
    setSelected(Math.min(selected + 1, checks.length - 1));
  };
  useKeys({
    ...Object.fromEntries([0, 1, 2, 3, 4].map((level) => [String(level), () => observe(level)])),
    '[': () => setSelected(Math.max(0, selected - 1)),
    ']': () => setSelected(Math.min(checks.length - 1, selected + 1)),
    u: visit.undo,
    s: () => {
      const name = checks[selected]?.items[0]?.name ?? '';
      document.querySelector<HTMLElement>(`[aria-label="Slips at ${CSS.escape(name)}"] button`)?.focus();
    },
    n: () => {
      setNoting(true);
      window.setTimeout(() => noteRef.current?.focus());
    },
    Enter: done,
  });

  return (
    <Stack sx={{ height: '100%', minHeight: 0 }}>
      <Box
        sx={{
          flex: 1,
          minHeight: 0,
          overflow: 'auto',
          px: { xs: 1.5, sm: 2 },
          pb: 1.5,
          display: 'grid',
          gap: 1.25,
          alignContent: 'start',
        }}
      >
        <Stack direction="row" sx={{ flexWrap: 'wrap', alignItems: 'baseline', columnGap: 1.5 }}>
          <Typography variant="h1" component="h2">
            {child.name}
          </Typography>
          <span>
            {child.instrument}
            {child.row ? `, row ${child.row}` : ''}, {visitWords(child)}
          </span>
        </Stack>
        {(child.pain || visit.says === 'hurts') && <Callout role="alert">{PAIN_NOW}</Callout>}
        {checks.map((check, index) => (
          <CheckCard
            key={check.target}
            check={check}
            visit={visit}
            instrument={child.instrument}
            selected={index === selected}
            onSelect={() => setSelected(index)}
          />
        ))}
        <Stack
          direction="row"
          spacing={0.75}
          role="group"
          aria-label="The child says"
          sx={{ flexWrap: 'wrap' }}
        >
          {ALL_SAYS.map((says) => (
            <Toggle key={says} on={visit.says === says} onClick={() => visit.say(says)}>
              {SAYS[says]}
            </Toggle>
          ))}
          <Button variant="pill" aria-expanded={noting} onClick={() => setNoting(!noting)}>
            Note
          </Button>
          <Button variant="pill" aria-expanded={hearing} onClick={() => setHearing(!hearing)}>
            Listen
          </Button>
          <Button variant="pill" aria-expanded={home} onClick={() => setHome(!home)}>
            From home
          </Button>
          {visit.anything && (
            <Button variant="pill" aria-keyshortcuts="u" onClick={visit.undo}>
              Undo
            </Button>
          )}
          {others.length > 0 && (
            <Button variant="pill" aria-expanded={more} onClick={() => setMore(!more)}>
              Look at more
            </Button>
          )}
        </Stack>
        {visit.says === 'soreTips' && (
          <Typography role="status" ref={intoView}>
            {SORE_TIPS_NOW}
          </Typography>
        )}
        {home && (
          <div ref={intoView}>
            <FromHome classId={classId} child={child} back={undefined} />
          </div>
        )}
        {hearing && (
          <VisitEar
            instrument={child.instrument}
            onNote={(heard) => {
              visit.setNote([visit.note, heard].filter(Boolean).join(' '));
              setNoting(true);
            }}
          />
        )}
        {noting && (
          <InputBase
            multiline
            inputRef={noteRef}
            value={visit.note}
            placeholder="Goes with the next observation"
            inputProps={{ 'aria-label': `Note on ${child.name}`, maxLength: 500 }}
            onChange={(event) => visit.setNote(event.target.value)}
            sx={{
              border: 1,
              borderColor: 'text.secondary',
              borderRadius: 1,
              px: 1.25,
              py: 0.75,
              bgcolor: 'background.paper',
            }}
          />
        )}
        {more && (
          <Stack
            direction="row"
            spacing={0.75}
            role="group"
            aria-label={`Also for ${child.name}`}
            sx={{ flexWrap: 'wrap' }}
          >
            {others.map((check) => (
              <Button
                variant="pill"
                key={check.target}
                onClick={() => onChecks([...stop.checks, check.target])}
                sx={{ flexDirection: 'column', py: 0.5 }}
              >
                {check.name}
                <Box component="small" sx={{ color: 'text.secondary' }}>
                  {whyWords(check)}
                </Box>
              </Button>
            ))}
          </Stack>
        )}
      </Box>
      <Box
        sx={{
          display: 'grid',
          gridTemplateColumns: `repeat(${onSwap ? 3 : 2}, auto) minmax(0, 1fr)`,
          gap: 1,
          p: 1,
          borderTop: 1,
          borderColor: 'divider',
          bgcolor: 'background.default',
        }}
      >
        <Button variant="outlined" onClick={() => leave('absent')}>
          Absent
        </Button>
        <Button variant="outlined" onClick={() => leave('skipped')}>
          Skip
        </Button>
        {onSwap && (
          <Button variant="outlined" onClick={onSwap}>
            Swap
          </Button>
        )}
        <Button
          variant="contained"
          sx={{ minHeight: 60, fontSize: '1.15rem' }}
          disabled={!visit.anything}
          onClick={done}
        >
          {next ? `Next: ${next}` : 'Done'}
        </Button>
      </Box>
    </Stack>
  );
}

/** The levels at which everything stands that could be looked at. */
function levelsOf(child: RoundChild): Record<string, number> {
  const items = [...child.checks, ...child.closeUp].flatMap((check) => check.items);
  return Object.fromEntries(items.flatMap(({ id, level }) => (level === undefined ? [] : [[id, level]])));
}
