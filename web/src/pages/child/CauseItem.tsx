import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Stack from '@mui/material/Stack';
import { styled } from '@mui/material/styles';
import type { Cause } from '../../api/client';
import { Becoming } from '../../parts/Becoming';
import { useSlipDrawing } from '../../parts/drawings';
import { LEVELS } from '../../words/looks';
import { againstWords, leadsWords, speaksWords } from '../../words/causes';

const CauseCard = styled('li')(({ theme }) => ({
  listStyle: 'none',
  padding: theme.spacing(1.25, 1.5),
  background: theme.vars.palette.background.paper,
  border: `1px solid ${theme.vars.palette.divider}`,
  borderRadius: '6px 6px 16px 16px',
  display: 'grid',
  gap: 4,
  '&.instrument': { boxShadow: `inset 4px 0 ${theme.vars.palette.primary.main}` },
}));

interface Props {
  cause: Cause;
  ticked: boolean;
  onTick: () => void;
  onUndo: () => void;
  onGo: (checkpoint: string) => void;
}

/** One cause: its first help, what speaks for it and against it, and recording it. */
export function CauseItem({ cause, ticked, onTick, onUndo, onGo }: Props) {
  const { checkpoint } = cause;
  const level = LEVELS[checkpoint?.level ?? 0] ?? '';
  const drawn = useSlipDrawing(cause.slip);
  return (
    <CauseCard className={cause.side}>
      <Stack direction="row" spacing={1} sx={{ alignItems: 'baseline' }}>
        <Box component="strong" sx={{ flex: 1, fontSize: '1.1rem' }}>
          {cause.name}
        </Box>
        {cause.side === 'instrument' && (
          <Box sx={{ color: 'primary.main', fontWeight: 700 }}>check first</Box>
        )}
      </Stack>
      <Stack direction="row" spacing={1.25} sx={{ alignItems: 'center' }}>
        {drawn && (
          <Becoming
            amiss={drawn.drawing.amiss}
            right={drawn.drawing.right}
            instrument={drawn.instrument}
            help={cause.help}
          />
        )}
        <Box sx={{ flex: 1, minWidth: 0 }}>
          <strong>First help:</strong> {cause.help}
        </Box>
      </Stack>
      {cause.leadsTo.length > 0 && <Box>{leadsWords(cause.leadsTo)}</Box>}
      <Box sx={{ color: 'text.secondary', fontSize: '0.95rem' }}>
        {speaksWords(cause)}
        {cause.against.length > 0 && <Box component="span">. {againstWords(cause.against)}</Box>}
      </Box>
      {checkpoint && (
        <Stack direction="row" spacing={0.75} sx={{ flexWrap: 'wrap', alignItems: 'center' }}>
          {cause.slip &&
            (ticked ? (
              <>
                <Box role="status" sx={{ fontWeight: 600 }}>
                  Recorded on {checkpoint.name}
                </Box>
                <Button onClick={onUndo}>Undo</Button>
              </>
            ) : (
              <Button variant="contained" onClick={onTick}>
                Record it, {checkpoint.name} at {level}
              </Button>
            ))}
          <Button variant="outlined" onClick={() => onGo(checkpoint.id)}>
            Go to {checkpoint.name}
          </Button>
        </Stack>
      )}
    </CauseCard>
  );
}
