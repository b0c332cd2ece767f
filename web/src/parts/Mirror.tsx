import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import Stack from '@mui/material/Stack';
import Typography from '@mui/material/Typography';
import { styled } from '@mui/material/styles';
import type { Instrument } from '../api/client';
import { Figure, type Spec } from './Figure';
import { OneOf } from './OneOf';
import { useCamera, type CameraState } from './useCamera';
import { useLocalSetting } from './useLocalSetting';

/** Left is left, as in a mirror. */
const Flipped = styled('div')(({ theme }) => ({
  position: 'absolute',
  inset: 0,
  transform: 'scaleX(-1)',
  '& > *': { position: 'absolute', inset: 0, width: '100%', height: '100%', objectFit: 'contain' },
  background: theme.vars.palette.background.default,
}));

const PLACES = [
  ['beside', 'Drawing beside it'],
  ['over', 'Drawing over it'],
] as const;

const SAID: Partial<Record<CameraState, string>> = {
  refused:
    'This device does not let the page use its camera. Allow it in the settings of the browser, then try again; the drawing stays.',
  none: 'No camera was found on this device. The drawing stays.',
};

interface Props {
  spec: Spec;
  instrument: Instrument;
  what: string;
  onClose: () => void;
}

/** The device as a mirror beside the drawing: live and flipped, and the last seconds once more. Nothing of it is kept. */
export function Mirror({ spec, instrument, what, onClose }: Props) {
  const { video, canvas, ...camera } = useCamera();
  const [place, setPlace] = useLocalSetting('mirror-place', ['beside', 'over']);
  const seen = camera.state === 'live' || camera.state === 'again';
  const over = place === 'over' && seen;
  const close = () => {
    camera.turnOff();
    onClose();
  };
  return (
    <Dialog open fullScreen onClose={close} aria-labelledby="mirror-title">
      <Stack sx={{ height: '100%', minHeight: 0, p: 2 }} spacing={1.5}>
        <Stack direction="row" spacing={2} sx={{ alignItems: 'baseline', flexWrap: 'wrap' }}>
          <Typography id="mirror-title" variant="h2" sx={{ flex: 1, minWidth: 200 }}>
            {what}
          </Typography>
          <OneOf name="Where the drawing is" value={place} options={PLACES} onChoose={setPlace} />
        </Stack>
        <Box
          sx={{
            flex: 1,
            minHeight: 0,
            display: 'grid',
            gap: 1.5,
            gridTemplateColumns: { xs: '1fr', md: over ? '1fr' : '2fr 1fr' },
            gridTemplateRows: { xs: over ? '1fr' : '3fr 2fr', md: '1fr' },
          }}
        >
          <Box sx={{ position: 'relative', minHeight: 0, overflow: 'hidden', borderRadius: 1 }}>
            <Flipped>
              <video
                ref={video}
                muted
                playsInline
                aria-label="Yourself, as in a mirror"
                style={{ visibility: camera.state === 'live' ? 'visible' : 'hidden' }}
              />
              <canvas
                ref={canvas}
                aria-label="The last seconds, slowly"
                style={{ visibility: camera.state === 'again' ? 'visible' : 'hidden' }}
              />
            </Flipped>
            {over && (
              <Box sx={{ position: 'absolute', inset: 0, opacity: 0.45 }}>
                <Figure mirrored spec={spec} instrument={instrument} what={what} />
              </Box>
            )}
            {!seen && <Before state={camera.state} onTurnOn={camera.turnOn} />}
          </Box>
          {!over && (
            <Box sx={{ minHeight: 0, bgcolor: 'background.default', borderRadius: 1, p: 1 }}>
              <Figure
                mirrored
                labelled
                spec={spec}
                instrument={instrument}
                what={`${what}, as in a mirror`}
              />
            </Box>
          )}
        </Box>
        <Stack direction="row" spacing={1.5} sx={{ justifyContent: 'flex-end', flexWrap: 'wrap' }}>
          <Typography role="status" sx={{ flex: 1, minWidth: 160, alignSelf: 'center' }}>
            {camera.state === 'again' ? 'The last seconds, slowly' : ''}
          </Typography>
          {seen && (
            <Button variant="outlined" disabled={camera.state === 'again'} onClick={camera.again}>
              Once more
            </Button>
          )}
          <Button variant="contained" onClick={close}>
            Back
          </Button>
        </Stack>
      </Stack>
    </Dialog>
  );
}

/** Before the camera is on: what comes first, and the button that asks for it. */
function Before({ state, onTurnOn }: { state: CameraState; onTurnOn: () => void }) {
  const said = SAID[state];
  return (
    <Stack
      spacing={2}
      sx={{ position: 'absolute', inset: 0, p: 2, alignItems: 'center', justifyContent: 'center' }}
    >
      <Typography sx={{ maxWidth: 460, fontSize: '1.1rem' }}>
        Your school&apos;s rules on pictures come first. The mirror shows what the camera sees on this screen
        only: nothing is stored, nothing is sent, and the last five seconds are forgotten when you go back.
      </Typography>
      {said && <Alert severity="info">{said}</Alert>}
      <Button variant="contained" size="large" loading={state === 'asked'} onClick={onTurnOn}>
        {said ? 'Try again' : 'Camera on'}
      </Button>
    </Stack>
  );
}
