import { styled } from '@mui/material/styles';
import type { Moment } from '../core/hearing';

const WIDE = 400;
const HIGH = 84;
const MIDDLE = WIDE / 2;
/** Cents at the edge of the picture. */
const MOST = 50;

const Picture = styled('svg')(({ theme: { vars } }) => ({
  display: 'block',
  width: '100%',
  maxHeight: 180,
  fill: 'none',
  strokeLinecap: 'round',
  '& .bar': { fill: vars.palette.own.board },
  '& .mark': { stroke: vars.palette.text.primary, strokeWidth: 3 },
  '& .near': { fill: vars.palette.own.warm },
  '& .wave': { stroke: vars.palette.own.rest, strokeWidth: 2 },
  '& .string': { stroke: vars.palette.text.secondary, strokeWidth: 2 },
  '& .finger': { fill: vars.palette.own.rest, stroke: vars.palette.text.primary, strokeWidth: 2 },
  '& .finger.right': { fill: vars.palette.own.glow },
  '@media (forced-colors: active)': {
    '& .bar': { fill: 'CanvasText' },
    '& .mark, & .string, & .wave, & .finger': { stroke: 'CanvasText' },
    '& .near': { fill: 'Canvas', stroke: 'GrayText' },
    '& .finger.right': { fill: 'Highlight' },
  },
}));

interface Props {
  heard: Pick<Moment, 'place' | 'cents' | 'levelDb' | 'hz'> | undefined;
  /** Whether what is meant is near enough; absent where nothing is meant: then there is no mark. */
  right?: boolean;
  /** What it shows, in words. */
  what: string;
}

/** The string itself, swinging as loud as it sounds: the drop on it lies left of the mark where it is low, right of it where it is high; without a note that is meant there is no drop. */
export function SoundingString({ heard, right, what }: Props) {
  const sounds = heard !== undefined && heard.place >= 0;
  const cents = sounds ? Math.max(-MOST, Math.min(MOST, heard.cents)) : 0;
  const at = MIDDLE + (cents / MOST) * (MIDDLE - 30);
  const loud = heard ? Math.max(0, Math.min(1, (heard.levelDb + 60) / 50)) : 0;
  const swing = heard && heard.hz > 0 ? 4 + loud * 26 : 0;
  const line = HIGH / 2;
  return (
    <Picture viewBox={`0 0 ${WIDE} ${HIGH}`} role="img" aria-label={what}>
      {right !== undefined && (
        <rect className="near" x={MIDDLE - 17} y={8} width={34} height={HIGH - 16} rx={6} />
      )}
      {/* How the string swings: away from both ends, most in its middle. */}
      <path
        className="wave"
        d={`M12,${line} Q${MIDDLE},${line - swing * 2} ${WIDE - 12},${line} Q${MIDDLE},${line + swing * 2} 12,${line}`}
      />
      <line className="string" x1={12} y1={line} x2={WIDE - 12} y2={line} />
      {right !== undefined && <path className="mark" d={`M${MIDDLE},6 v12 M${MIDDLE},${HIGH - 18} v12`} />}
      <rect className="bar" x={4} y={12} width={8} height={HIGH - 24} rx={2} />
      <rect className="bar" x={WIDE - 12} y={12} width={8} height={HIGH - 24} rx={2} />
      {sounds && <circle className={right ? 'finger right' : 'finger'} cx={at} cy={line} r={12} />}
    </Picture>
  );
}
