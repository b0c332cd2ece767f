import Stack from '@mui/material/Stack';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import ButtonBase from '@mui/material/ButtonBase';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import type { RoundKit } from '../../api/client';
import { DrawnFor, LookDrawing } from '../../parts/drawings';
import { partWords } from '../../words/looks';
import { count } from '../../words/text';
import type { Round } from './useRound';
import { childOf, present, type RoundState, type ScanKey } from './walk';

interface Props {
  kit: RoundKit;
  round: Round;
  state: RoundState;
  scan: ScanKey;
  /** Those who were tapped get a visit. */
  onDone: (tapped: string[]) => void;
  onLeave: () => void;
}

/** A row or a section from afar: everybody stays as they are but those who are tapped. */
export function ScanCard({ kit, round, state, scan, onDone, onLeave }: Props) {
  const [tapped, setTapped] = useState<ReadonlySet<string>>(new Set());
  const known = kit.scans.find((one) => one.target === scan.target);
  const where = partWords(kit.parts.find(({ key }) => key === scan.part));
  const here = present(kit, scan.part, state.absent).flatMap((id) => childOf(kit, id) ?? []);
  const lookFors = known?.lookFors.filter(({ instruments }) =>
    here.some((child) => instruments.includes(child.instrument)),
  );
  const done = () => {
    for (const child of here) {
      if (tapped.has(child.id) || !child.canBeScanned.includes(scan.target)) continue;
      const stage = /\.\d+$/.test(scan.target);
      const seen = stage ? { except: [] } : { level: 3 };
      round.observe(
        state,
        { child: child.id, target: scan.target, via: 'scan', ...seen },
        `${child.name}, ${known?.name ?? ''}: from afar`,
      );
    }
    round.about(
      state,
      'scan',
      here.map(({ id }) => id),
      `${where} from afar`,
      { ...scan },
    );
    onDone([...tapped]);
  };
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
        <Typography variant="h1" component="h2">
          {where}: {known?.name}
        </Typography>
        {lookFors?.map(({ lookFor, instruments }) => (
          <Stack
            key={lookFor}
            direction="row"
            spacing={1.25}
            sx={{ fontSize: '1.1rem', alignItems: 'center' }}
          >
            {instruments[0] && (
              <DrawnFor classId={kit.classId} instrument={instruments[0]}>
                <LookDrawing checkpoint={scan.target} name={known?.name ?? ''} lookFor={lookFor} />
              </DrawnFor>
            )}
            <Box>
              {lookFors.length > 1 && <strong>{instruments.join(', ')}: </strong>}
              {lookFor}
            </Box>
          </Stack>
        ))}
        <Typography>
          Tap whom you want to see close up. Everybody else stays as they are; nobody is raised from afar.
        </Typography>
        <Box
          role="group"
          aria-label={where}
          sx={{ display: 'grid', gap: 1, gridTemplateColumns: 'repeat(auto-fill, minmax(104px, 1fr))' }}
        >
          {here.map((child) => {
            const pressed = tapped.has(child.id);
            return (
              <ButtonBase
                key={child.id}
                aria-pressed={pressed}
                onClick={() => {
                  const next = new Set(tapped);
                  if (!next.delete(child.id)) next.add(child.id);
                  setTapped(next);
                }}
                sx={{
                  minHeight: 72,
                  px: 1,
                  fontSize: '1.05rem',
                  flexDirection: 'column',
                  border: 1,
                  borderColor: 'divider',
                  borderRadius: '6px 6px 18px 18px',
                  bgcolor: pressed ? 'text.primary' : 'background.paper',
                  color: pressed ? 'background.paper' : 'text.primary',
                }}
              >
                {child.name}
                <Box component="span" sx={{ fontSize: '0.875rem' }}>
                  {pressed
                    ? 'close up'
                    : child.canBeScanned.includes(scan.target)
                      ? 'as before'
                      : 'not learned yet'}
                </Box>
              </ButtonBase>
            );
          })}
        </Box>
      </Box>
      <Box
        sx={{
          display: 'grid',
          gridTemplateColumns: 'auto minmax(0, 1fr)',
          gap: 1,
          p: 1,
          borderTop: 1,
          borderColor: 'divider',
        }}
      >
        <Button variant="outlined" onClick={onLeave}>
          Not now
        </Button>
        <Button variant="contained" sx={{ minHeight: 60, fontSize: '1.15rem' }} onClick={done}>
          {tapped.size === 0 ? 'All fine' : `All fine but ${count(tapped.size, 'child', 'children')}`}
        </Button>
      </Box>
    </Stack>
  );
}
