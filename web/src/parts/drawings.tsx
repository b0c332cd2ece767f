import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import ButtonBase from '@mui/material/ButtonBase';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import Stack from '@mui/material/Stack';
import Typography from '@mui/material/Typography';
import { useQuery } from '@tanstack/react-query';
import { createContext, use, useMemo, useState, type ReactNode } from 'react';
import type { Instrument, Schemas } from '../api/client';
import { classesQuery, drawingsQuery } from '../api/queries';
import { stressWords } from '../words/figures';
import { Figure } from './Figure';
import { Mirror } from './Mirror';

type Drawings = Schemas['DrawingsOfClass'];

interface Drawn {
  classId: string;
  drawings: Drawings | undefined;
  /** Whose: a child may go its own way. */
  child: string | undefined;
  instrument: Instrument;
}

const DrawnContext = createContext<Drawn | undefined>(undefined);

interface DrawnForProps {
  classId: string;
  child?: string | undefined;
  instrument: Instrument;
  children: ReactNode;
}

/** Below it, what is looked at has its drawing: on this instrument, by the class's options or the child's own. */
export function DrawnFor({ classId, child, instrument, children }: DrawnForProps) {
  const drawings = useQuery(drawingsQuery(classId)).data;
  const value = useMemo(
    () => ({ classId, drawings, child, instrument }),
    [classId, drawings, child, instrument],
  );
  return <DrawnContext value={value}>{children}</DrawnContext>;
}

/** The drawings of a checkpoint, if it has any here; `'coming'` where that is not known yet. */
export function useCheckpointDrawing(checkpoint: string) {
  const drawn = use(DrawnContext);
  // What tapes come to is not drawn.
  if (!drawn || checkpoint.startsWith('tape.')) return undefined;
  if (!drawn.drawings) return 'coming';
  const { classId, drawings, child, instrument } = drawn;
  const own = child === undefined ? undefined : drawings.children[child]?.checkpoints[checkpoint];
  const drawing = (own ?? drawings.class.checkpoints[checkpoint])?.[instrument];
  return drawing && { classId, drawing, instrument };
}

/** How a slip looks and how it becomes right, if it is drawn here. */
export function useSlipDrawing(slip: string | undefined) {
  const drawn = use(DrawnContext);
  if (!drawn?.drawings || slip === undefined) return undefined;
  const { drawings, child, instrument } = drawn;
  const own = child === undefined ? undefined : drawings.children[child]?.slips[slip];
  const drawing = (own ?? drawings.class.slips[slip])?.[instrument];
  return drawing && { drawing, instrument };
}

interface LookDrawingProps {
  checkpoint: string;
  name: string;
  lookFor: string;
  proof?: string | undefined;
  cue?: string | undefined;
  /** Its width and height in pixels. */
  size?: number;
  /** It is about a class, not about a child: where the class sees both, the other comes first. */
  ofClass?: boolean;
}

/** What to look for as a drawing; a tap shows it large, with the proof beside it where a drawing shows it. */
export function LookDrawing({
  checkpoint,
  name,
  lookFor,
  proof,
  cue,
  size = 96,
  ofClass = false,
}: LookDrawingProps) {
  const found = useCheckpointDrawing(checkpoint);
  const [open, setOpen] = useState<'large' | 'mirror'>();
  const close = () => setOpen(undefined);
  if (!found) return null;
  // Its place is kept: nothing moves under a thumb when it comes.
  if (found === 'coming') return <Box sx={{ flex: 'none', width: size, height: size }} />;
  const { classId, drawing, instrument } = found;
  const other = ofClass ? drawing.other : undefined;
  const otherWords = `First the other: look at the ${stressWords(other?.amiss ?? [])}`;
  return (
    <>
      <ButtonBase
        aria-label={`${name} as a drawing, large`}
        aria-haspopup="dialog"
        onClick={() => setOpen('large')}
        sx={{
          flex: 'none',
          width: size,
          height: size,
          borderRadius: 1,
          bgcolor: 'background.default',
          p: 0.5,
        }}
      >
        <Figure spec={drawing.look} instrument={instrument} what={lookFor} />
      </ButtonBase>
      <Dialog open={open === 'large'} onClose={close} maxWidth="md" fullWidth aria-labelledby="drawing-title">
        <DialogTitle id="drawing-title">{name}</DialogTitle>
        <DialogContent>
          <Stack direction={{ xs: 'column', sm: 'row' }} spacing={2}>
            {other && (
              <Large words={otherWords}>
                <Figure labelled spec={other} instrument={instrument} what={otherWords} />
              </Large>
            )}
            <Large words={other ? `Then: ${lookFor}` : lookFor}>
              <Figure labelled spec={drawing.look} instrument={instrument} what={lookFor} />
            </Large>
            {drawing.proof && proof && (
              <Large words={`Proof: ${proof}`}>
                <Figure labelled spec={drawing.proof} instrument={instrument} what={proof} />
              </Large>
            )}
          </Stack>
          {cue && <Typography sx={{ pt: 1.5, fontSize: '1.1rem' }}>Say: “{cue}”</Typography>}
        </DialogContent>
        <DialogActions>
          <MirrorButton classId={classId} onOpen={() => setOpen('mirror')} />
          <Button variant="contained" onClick={close}>
            Back
          </Button>
        </DialogActions>
      </Dialog>
      {open === 'mirror' && (
        <Mirror spec={drawing.look} instrument={instrument} what={lookFor} onClose={close} />
      )}
    </>
  );
}

/** A slip that was ticked: right, with the slip behind it as a fine line and its lozenge. */
export function SlipDrawing({ slip, help }: { slip: string; help: string }) {
  const found = useSlipDrawing(slip);
  if (!found) return null;
  const { amiss, right } = found.drawing;
  return (
    <Box sx={{ flex: 'none', width: 96, height: 96, bgcolor: 'background.default', borderRadius: 1, p: 0.5 }}>
      <Figure spec={right} before={amiss} instrument={found.instrument} what={help} />
    </Box>
  );
}

/** Where the program lets the device's camera be a mirror, and never for a substitute. */
function MirrorButton({ classId, onOpen }: { classId: string; onOpen: () => void }) {
  const classes = useQuery(classesQuery);
  if (!classes.data?.find(({ id }) => id === classId)?.mirror) return null;
  return <Button onClick={onOpen}>Mirror</Button>;
}

function Large({ words, children }: { words: string; children: ReactNode }) {
  return (
    <Box sx={{ flex: 1, minWidth: 0 }}>
      <Box sx={{ height: { xs: '38vh', sm: '52vh' }, bgcolor: 'background.default', borderRadius: 1, p: 1 }}>
        {children}
      </Box>
      <Typography sx={{ pt: 1, fontSize: '1.1rem', fontWeight: 600 }}>{words}</Typography>
    </Box>
  );
}
