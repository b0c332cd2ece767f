import Stack from '@mui/material/Stack';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import Typography from '@mui/material/Typography';
import { useTheme } from '@mui/material/styles';
import useMediaQuery from '@mui/material/useMediaQuery';
import { keepPreviousData } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import type { Cause, Instrument } from '../../api/client';
import { $api } from '../../api/queries';
import { Failed, Loading } from '../../parts/Message';
import { capital, count } from '../../words/text';
import { BY_MICROPHONE } from '../../words/listening';
import { ByMicrophone } from './ByMicrophone';
import { CauseItem } from './CauseItem';
import { HurtsCaution, Splits, SymptomKeys, withSymptom, type Picked } from './SymptomKeys';
import type { Observing } from './useObserving';

interface Props {
  classId: string;
  child: { id: string; name: string; instrument: Instrument };
  observing: Observing;
  onClose: () => void;
  /** Goes to a checkpoint on the ladders. */
  onGo: (checkpoint: string) => void;
}

/** From what one hears or sees to what it may come from: symptoms as large keys, causes ranked as they are picked. */
export function SymptomsDialog({ classId, child, observing, onClose, onGo }: Props) {
  const [picked, setPicked] = useState<Picked>({ symptoms: [], answers: [], facts: [] });
  const { symptoms, answers, facts } = picked;
  const [ticked, setTicked] = useState<string>();
  const [listens, setListens] = useState(false);
  // What the microphone heard, in words, by the symptom as which it was taken.
  const [heard, setHeard] = useState<Record<string, string>>({});
  const theme = useTheme();
  const small = useMediaQuery(theme.breakpoints.down('md'));
  const answer = $api.useQuery(
    'get',
    '/api/classes/{class}/children/{child}/causes',
    {
      params: {
        path: { class: classId, child: child.id },
        query: { symptoms: symptoms.join(','), answers: answers.join(','), facts: facts.join(',') },
      },
    },
    { placeholderData: keepPreviousData },
  );
  const pick = (next: Picked) => {
    setTicked(undefined);
    setPicked(next);
  };
  /** What the microphone heard of what speaks for a cause: it goes with the observation. */
  const heardOf = (cause: Cause) => {
    const known = answer.data?.symptoms ?? [];
    const speak = known.filter(({ id, name }) => symptoms.includes(id) && cause.symptoms.includes(name));
    const words = new Set(speak.flatMap(({ id }) => heard[id] ?? []));
    return words.size > 0 ? `${[...words].join(' ')} ${capital(BY_MICROPHONE)}.` : undefined;
  };
  const list = useRef<HTMLDivElement>(null);
  const causes = symptoms.length > 0 ? (answer.data?.causes ?? []) : [];
  return (
    <Dialog
      open
      onClose={onClose}
      fullScreen={small}
      fullWidth
      maxWidth="lg"
      aria-labelledby="symptoms-title"
    >
      <DialogContent sx={{ p: 0, display: 'flex', flexDirection: 'column', minHeight: 0 }}>
        <Stack direction="row" spacing={1} sx={{ alignItems: 'center', p: 2, pb: 1 }}>
          <Typography id="symptoms-title" variant="h2" sx={{ flex: 1 }}>
            {child.name}: what do you hear or see?
          </Typography>
          <Button variant="pill" aria-expanded={listens} onClick={() => setListens(!listens)}>
            Listen
          </Button>
          <Button onClick={onClose}>Close</Button>
        </Stack>
        {answer.data && (
          <Box sx={{ px: 2, '& > *': { mb: 1 } }}>
            <HurtsCaution symptoms={answer.data.symptoms} picked={picked} />
          </Box>
        )}
        {answer.error && !answer.data ? (
          <Failed error={answer.error} onRetry={() => void answer.refetch()} />
        ) : !answer.data ? (
          <Loading what="The symptoms are being laid out" />
        ) : (
          <Box
            sx={{
              display: 'grid',
              gap: 2,
              p: 2,
              pt: 0,
              minHeight: 0,
              // Beside each other the two scroll apart: what is picked further down shows its causes at once.
              overflow: { xs: 'auto', md: 'hidden' },
              gridTemplateColumns: { xs: 'minmax(0, 1fr)', md: 'minmax(0, 1fr) minmax(0, 1fr)' },
              gridTemplateRows: { md: 'minmax(0, 1fr)' },
              '& > *': { minHeight: { md: 0 }, overflow: { md: 'auto' } },
            }}
          >
            <Box sx={{ display: 'grid', gap: 1.5, alignContent: 'start' }}>
              {listens && (
                <ByMicrophone
                  classId={classId}
                  instrument={child.instrument}
                  symptoms={answer.data.symptoms}
                  picked={symptoms}
                  onPick={(id, words) => {
                    setHeard({ ...heard, [id]: words });
                    pick(withSymptom(answer.data.symptoms, picked, id));
                  }}
                />
              )}
              <SymptomKeys symptoms={answer.data.symptoms} picked={picked} onPick={pick} />
            </Box>
            <Box ref={list} sx={{ display: 'grid', gap: 1, alignContent: 'start', scrollMarginTop: 8 }}>
              <Splits symptoms={answer.data.symptoms} picked={picked} onPick={pick} />
              <Typography variant="h3">
                <span role="status">
                  {symptoms.length === 0
                    ? 'Tap one or more; causes come as you tap.'
                    : `${count(causes.length, 'cause')}, the likeliest first`}
                </span>
              </Typography>
              <Box component="ol" aria-label="Causes" sx={{ m: 0, p: 0, pt: 0.5, display: 'grid', gap: 1 }}>
                {causes.map((cause) => (
                  <CauseItem
                    key={cause.id}
                    cause={cause}
                    ticked={ticked === cause.id}
                    onTick={() => {
                      observing.tick(cause, heardOf(cause));
                      setTicked(cause.id);
                    }}
                    onUndo={() => {
                      observing.undoLast();
                      setTicked(undefined);
                    }}
                    onGo={onGo}
                  />
                ))}
              </Box>
            </Box>
          </Box>
        )}
        {small && causes[0] && (
          <Box sx={{ p: 1, borderTop: 1, borderColor: 'divider', bgcolor: 'background.paper' }}>
            <Button
              fullWidth
              variant="outlined"
              onClick={() => list.current?.scrollIntoView({ block: 'start' })}
            >
              {causes[0].name}, and {count(causes.length - 1, 'more', 'more')}
            </Button>
          </Box>
        )}
      </DialogContent>
    </Dialog>
  );
}
