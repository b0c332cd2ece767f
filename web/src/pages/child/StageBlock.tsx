import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { styled } from '@mui/material/styles';
import { useState, type ReactNode } from 'react';
import { api, unwrap, type Checkpoint, type Stage } from '../../api/client';
import { useAction } from '../../parts/useAction';
import { dayWords } from '../../words/dates';
import { isDue, recheckWords } from '../../words/room';
import type { Observing } from './useObserving';

const Head = styled('div')(({ theme }) => ({
  display: 'flex',
  flexWrap: 'wrap',
  alignItems: 'center',
  minHeight: 44,
  gap: theme.spacing(0.5, 1),
  padding: theme.spacing(0.25, 0.5, 0.25, 1),
  borderTop: `1px solid ${theme.vars.palette.divider}`,
  '& .state': { flex: 1, minWidth: 120, color: theme.vars.palette.text.secondary },
}));

/** What a shut stage waits for, or how it stands. */
function stageWords(stage: Stage): string {
  if (stage.state === 'shut') return `opens after ${stage.waitsFor.join(' and ')}`;
  if (stage.opened) return `opened anyway by ${stage.opened.by}, ${dayWords(stage.opened.at)}`;
  const due = stage.recheck && isDue(stage.recheck) ? `, what stands ${recheckWords(stage.recheck)}` : '';
  return (stage.state === 'open' ? 'in work' : stage.state) + due;
}

/** A look at a whole stage while it is being made. */
export interface StageLook {
  /** The checkpoints it does not vouch for; absent while no exceptions are tapped. */
  except?: string[] | undefined;
  flip: (checkpoint: string) => void;
}

interface Props {
  classId: string;
  childId: string;
  stage: Stage;
  tape: boolean;
  director: boolean;
  observing: Observing;
  /** The first of the excepted checkpoints wants its own observation now. */
  onExcepted: (checkpoint: string) => void;
  row: (checkpoint: Checkpoint, look: StageLook) => ReactNode;
}

/** One stage: how it stands, what can be done with all of it, and its checkpoints. */
export function StageBlock({ classId, childId, stage, tape, director, observing, onExcepted, row }: Props) {
  const [except, setExcept] = useState<string[]>();
  const action = useAction(classId);
  const look: StageLook = {
    except,
    flip: (id) =>
      setExcept((all = []) => (all.includes(id) ? all.filter((other) => other !== id) : [...all, id])),
  };
  const params = { path: { class: classId, child: childId, stage: stage.id } };
  const path = '/api/classes/{class}/children/{child}/stages/{stage}/opened';
  const holds = () => {
    observing.holds(stage, except);
    if (except?.[0]) onExcepted(except[0]);
    setExcept(undefined);
  };
  return (
    <Box>
      <Head>
        <strong>
          {stage.number} {stage.name}
        </strong>
        <span className="state">{stageWords(stage)}</span>
        {!tape && stage.recheck && isDue(stage.recheck) && (
          <>
            <Button variant="outlined" onClick={holds}>
              {except && except.length > 0 ? `Still there but ${except.length}` : 'Still there'}
            </Button>
            <Button onClick={() => setExcept(except ? undefined : [])}>
              {except ? 'All of it' : 'All but …'}
            </Button>
          </>
        )}
        {director && stage.state === 'shut' && (
          <Button
            variant="outlined"
            loading={action.busy}
            onClick={() => void action.run(() => unwrap(api.PUT(path, { params })))}
          >
            Open anyway
          </Button>
        )}
        {director && stage.opened && (
          <Button
            loading={action.busy}
            onClick={() => void action.run(() => unwrap(api.DELETE(path, { params })))}
          >
            Let it wait
          </Button>
        )}
      </Head>
      {action.error && (
        <Alert severity="error" sx={{ m: 1 }}>
          {action.error}
        </Alert>
      )}
      <Box component="ul" aria-label={`${stage.name}, checkpoints`} sx={{ m: 0, p: 0 }}>
        {stage.checkpoints.map((checkpoint) => row(checkpoint, look))}
      </Box>
    </Box>
  );
}
