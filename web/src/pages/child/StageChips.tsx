import { styled } from '@mui/material/styles';
import type { Stage } from '../../api/client';
import { Toggle } from '../../parts/Toggle';
import { isDue } from '../../words/room';

const Line = styled('div')(({ theme }) => ({
  display: 'flex',
  flexWrap: 'wrap',
  gap: 4,
  padding: theme.spacing(0.25, 1, 0.75),
}));

const Step = styled(Toggle)(({ theme }) => ({
  gap: 5,
  padding: theme.spacing(0, 1),
  borderRadius: '6px 6px 16px 16px',
  '& svg': { flex: 'none', width: 10, height: 22, overflow: 'visible' },
  '& .line': { stroke: theme.vars.palette.own.rest },
  '& .ringing': { fill: theme.vars.palette.own.glow, stroke: theme.vars.palette.own.glowEdge },
  '& .hollow': { fill: 'none', stroke: theme.vars.palette.own.glowEdge, strokeWidth: 1.6 },
  '& .dot': { fill: theme.vars.palette.own.rest },
  '&.Mui-selected, &.Mui-selected:hover': {
    background: theme.vars.palette.background.default,
    borderColor: theme.vars.palette.text.primary,
    color: theme.vars.palette.text.primary,
    fontWeight: 600,
  },
}));

/** The same drawing as a string of the symptom: ringing, hollow when due, half when it is being worked on, a dot when shut. */
function Spindle({ stage }: { stage: Stage }) {
  const full = stage.state === 'reached' || stage.state === 'settled';
  const top = full ? 2 : 12;
  const middle = (22 + top) / 2;
  return (
    <svg viewBox="0 0 10 22" aria-hidden>
      <path className="line" d="M5 0V22" />
      {stage.state === 'shut' ? (
        <circle className="dot" cx="5" cy="19" r="2.6" />
      ) : (
        <path
          className={isDue(stage.recheck) ? 'hollow' : 'ringing'}
          d={`M5 22Q10 ${middle} 5 ${top}Q0 ${middle} 5 22Z`}
        />
      )}
    </svg>
  );
}

interface Props {
  stages: Stage[];
  isOpen: (stage: Stage) => boolean;
  onToggle: (stage: Stage) => void;
}

/** A strand's stages in one line; each opens to its checkpoints. */
export function StageChips({ stages, isOpen, onToggle }: Props) {
  return (
    <Line role="group" aria-label="Stages">
      {stages.map((stage) => (
        <Step
          key={stage.id}
          on={isOpen(stage)}
          aria-label={`Stage ${stage.number}, ${stage.name}, ${stage.state === 'open' ? 'in work' : stage.state}${isDue(stage.recheck) ? ', due again' : ''}`}
          onClick={() => onToggle(stage)}
        >
          <Spindle stage={stage} />
          {stage.number} {stage.name}
        </Step>
      ))}
    </Line>
  );
}
