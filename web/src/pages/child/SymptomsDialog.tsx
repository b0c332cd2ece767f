import Stack from '@mui/material/Stack';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import Typography from '@mui/material/Typography';
import { styled, useTheme } from '@mui/material/styles';
import useMediaQuery from '@mui/material/useMediaQuery';
import { keepPreviousData } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import type { Cause } from '../../api/client';
import { $api } from '../../api/queries';
import { Toggle } from '../../parts/Toggle';
import { Failed, Loading } from '../../parts/Message';
import { LEVELS } from '../../words/looks';
import { speaksWords } from '../../words/next';
import { count } from '../../words/text';
import type { Observing } from './useObserving';

/** What the director may have seen on the instrument; the rest is known from tapes, measures and inventory. */
const FACTS = [
  ['bridge-moved', 'Bridge leans or has moved'],
  ['strings-high', 'Strings far from the board'],
] as const;

const Sign = styled(Toggle)({ minHeight: 52, borderRadius: 12 });

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
  classId: string;
  child: { id: string; name: string };
  observing: Observing;
  onClose: () => void;
  /** Goes to a checkpoint on the ladders. */
  onGo: (checkpoint: string) => void;
}

/** From what one hears or sees to what it may come from: symptoms as large keys, causes ranked as they are picked. */
export function SymptomsDialog({ classId, child, observing, onClose, onGo }: Props) {
  const [symptoms, setSymptoms] = useState<string[]>([]);
  const [facts, setFacts] = useState<string[]>([]);
  const [ticked, setTicked] = useState<string>();
  const theme = useTheme();
  const small = useMediaQuery(theme.breakpoints.down('md'));
  const answer = $api.useQuery(
    'get',
    '/api/classes/{class}/children/{child}/causes',
    {
      params: {
        path: { class: classId, child: child.id },
        query: { symptoms: symptoms.join(','), facts: facts.join(',') },
      },
    },
    { placeholderData: keepPreviousData },
  );
  const flip = (all: string[], id: string) =>
    all.includes(id) ? all.filter((other) => other !== id) : [...all, id];
  const pick = (id: string) => {
    setTicked(undefined);
    setSymptoms((all) => flip(all, id));
  };
  const list = useRef<HTMLHeadingElement>(null);
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
          <Button onClick={onClose}>Close</Button>
        </Stack>
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
              overflow: 'auto',
              gridTemplateColumns: { xs: 'minmax(0, 1fr)', md: 'minmax(0, 1fr) minmax(0, 1fr)' },
            }}
          >
            <Box sx={{ display: 'grid', gap: 1.5, alignContent: 'start' }}>
              {(['hear', 'see'] as const).map((how) => (
                <Box key={how}>
                  <Typography variant="h3">{how === 'hear' ? 'Hear' : 'See'}</Typography>
                  <Stack
                    direction="row"
                    spacing={0.75}
                    role="group"
                    aria-label={how === 'hear' ? 'Hear' : 'See'}
                    sx={{ flexWrap: 'wrap', pt: 0.5 }}
                  >
                    {answer.data.symptoms
                      .filter((symptom) => symptom.how === how)
                      .map((symptom) => (
                        <Sign
                          key={symptom.id}
                          on={symptoms.includes(symptom.id)}
                          onClick={() => pick(symptom.id)}
                        >
                          {symptom.name}
                        </Sign>
                      ))}
                  </Stack>
                </Box>
              ))}
              <Box>
                <Typography variant="h3">On the instrument</Typography>
                <Stack
                  direction="row"
                  spacing={0.75}
                  role="group"
                  aria-label="On the instrument"
                  sx={{ flexWrap: 'wrap', pt: 0.5 }}
                >
                  {FACTS.map(([id, name]) => (
                    <Sign key={id} on={facts.includes(id)} onClick={() => setFacts((all) => flip(all, id))}>
                      {name}
                    </Sign>
                  ))}
                </Stack>
              </Box>
            </Box>
            <Box>
              <Typography ref={list} variant="h3" sx={{ scrollMarginTop: 8 }}>
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
                      observing.tick(cause);
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

interface ItemProps {
  cause: Cause;
  ticked: boolean;
  onTick: () => void;
  onUndo: () => void;
  onGo: (checkpoint: string) => void;
}

function CauseItem({ cause, ticked, onTick, onUndo, onGo }: ItemProps) {
  const { checkpoint } = cause;
  const level = LEVELS[checkpoint?.level ?? 0] ?? '';
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
      <Box>
        <strong>First help:</strong> {cause.help}
      </Box>
      <Box sx={{ color: 'text.secondary', fontSize: '0.95rem' }}>{speaksWords(cause)}</Box>
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
