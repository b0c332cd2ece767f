import Stack from '@mui/material/Stack';
import Box from '@mui/material/Box';
import IconButton from '@mui/material/IconButton';
import type { Schemas } from '../../api/client';
import { count } from '../../words/text';

type ReadyDrill = Schemas['DrillView'];

/** So many drills of a strand are in sight. */
const SHOWN = 4;

interface Props {
  drills: readonly ReadyDrill[];
  onAdd: (block: Schemas['PlannedBlock'], aim: string) => void;
}

/** The drills that some are ready for, the furthest first; the others folded away. */
export function ReadyDrills({ drills, onAdd }: Props) {
  const some = drills.filter(({ ready }) => ready > 0).toReversed();
  const none = drills.filter(({ ready }) => ready === 0);
  const line = ({ drill, minutes, ready, of }: ReadyDrill) => (
    <Stack direction="row" spacing={1} key={drill.id} sx={{ alignItems: 'center' }}>
      <IconButton
        aria-label={`Add ${drill.name}`}
        onClick={() => onAdd({ kind: 'drill', minutes, drill: drill.id }, drill.aim)}
      >
        +
      </IconButton>
      <Box sx={{ flex: 1, lineHeight: 1.25 }}>
        {drill.name}
        <Box sx={{ color: 'text.secondary' }}>
          {ready} of {of} ready, {minutes} min
        </Box>
      </Box>
    </Stack>
  );
  return (
    <>
      {some.slice(0, SHOWN).map(line)}
      {[['Earlier ones', some.slice(SHOWN)] as const, ['Later ones', none] as const].map(
        ([name, folded]) =>
          folded.length > 0 && (
            <Box component="details" key={name}>
              <Box component="summary" sx={{ lineHeight: '44px', cursor: 'pointer' }}>
                {name}: {count(folded.length, 'drill')}
              </Box>
              <Box sx={{ display: 'grid', gap: 0.75 }}>{folded.map(line)}</Box>
            </Box>
          ),
      )}
    </>
  );
}
