import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import { styled } from '@mui/material/styles';
import {
  answerBox,
  outbox,
  retryNow,
  roundBox,
  tapeBox,
  useAnswerBox,
  useOutbox,
  useRoundBox,
  useTapeBox,
} from '../offline/useOutbox';
import { count } from '../words/text';
import { useNewerBuild } from './newerBuild';

/** In the flow of the page: never over a key that somebody wants to hit. */
const Lines = styled('div')(({ theme }) => ({
  flex: 'none',
  display: 'grid',
  '& > *': { borderRadius: 0, borderWidth: '0 0 1px', padding: theme.spacing(0, 2) },
}));

/** What waits for the network, and what the server did not take: said where it cannot be missed. */
export function Notices() {
  const { pending, refused, line, kept } = useOutbox();
  const newer = useNewerBuild();
  const round = useRoundBox();
  const tapes = useTapeBox();
  const answers = useAnswerBox();
  const waiting = [...pending, ...tapes.pending, ...answers.pending].filter(
    ({ state }) => state !== 'stored',
  ).length;
  const held = [line, tapes.line, answers.line].find((one) => one !== 'open') ?? 'open';
  const stay = kept ? '' : ' Keep this page open: this browser keeps nothing.';
  const turned = [...refused, ...round.refused, ...tapes.refused, ...answers.refused];
  return (
    <Lines aria-live="polite">
      {newer && (
        <Alert
          severity="info"
          action={
            <Button color="inherit" onClick={() => window.location.reload()}>
              Load it
            </Button>
          }
        >
          There is a newer version of these pages, and what you opened needs it. Save what you typed first.
        </Alert>
      )}
      {held !== 'open' && waiting > 0 && (
        <Alert
          severity="warning"

          action={
            <Button color="inherit" onClick={retryNow}>
              Try now
            </Button>
          }
        >
          {held === 'signedOut'
            ? `${count(waiting, 'observation')} wait${waiting === 1 ? 's' : ''} until you have signed in again.${stay}`
            : `No answer from the server. ${count(waiting, 'observation')} kept on this device and sent as soon as it answers.${stay}`}
        </Alert>
      )}
      {turned.length > 0 && (
        <Alert
          severity="error"

          action={
            <Button
              color="inherit"
              onClick={() => {
                outbox.dismiss();
                roundBox.dismiss();
                tapeBox.dismiss();
                answerBox.dismiss();
              }}
            >
              Fine
            </Button>
          }
        >
          {turned.map(({ item, label, reason }) => (
            <div key={item.id}>
              <strong>Taken back: {label}.</strong> {reason}
            </div>
          ))}
        </Alert>
      )}
    </Lines>
  );
}
