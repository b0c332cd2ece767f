import { styled } from '@mui/material/styles';
import type { Instrument } from '../../api/client';
import { capital } from '../../words/text';

const Drawing = styled('svg')(({ theme }) => ({
  display: 'block',
  width: '100%',
  maxHeight: 190,
  fill: 'none',
  stroke: theme.vars.palette.text.primary,
  strokeWidth: 3,
  strokeLinecap: 'round',
  strokeLinejoin: 'round',
  '& .wood': { stroke: theme.vars.palette.own.glowEdge, fill: theme.vars.palette.own.warm },
  '& .bow': { stroke: theme.vars.palette.primary.main },
  '& text': { fill: theme.vars.palette.text.primary, stroke: 'none', fontSize: 15, textAnchor: 'middle' },
}));

interface Shape {
  /** The instrument as it is held, seen from the front. */
  body: string;
  neck: string;
  bow: string;
  /** From the shoulder to the hand. */
  left: [x: number, y: number];
  right: [x: number, y: number];
}

/** A player seen from the front: the own left hand is on the right of the picture. */
const SHAPES: Record<'high' | 'cello' | 'bass', Shape> = {
  high: {
    body: 'M112 62c10-8 24-4 28 6s-6 20-18 18-18-16-10-24z',
    neck: 'M136 72L176 60',
    bow: 'M62 92L146 62',
    left: [172, 62],
    right: [66, 91],
  },
  cello: {
    body: 'M100 104c-14 4-12 18-6 24-10 8-8 28 8 30s26-12 20-26c8-8 4-22-8-26z',
    neck: 'M108 106L122 48',
    bow: 'M48 124L146 118',
    left: [120, 66],
    right: [54, 124],
  },
  bass: {
    body: 'M104 92c-16 4-14 20-6 28-14 10-12 40 10 42s32-16 22-36c10-10 4-28-12-32z',
    neck: 'M114 94L124 26',
    bow: 'M46 132L146 126',
    left: [122, 48],
    right: [52, 132],
  },
};

/** How a hand is shown: on which side the player has it, and where it would be in a mirror. */
export function Hands({ instrument, mirrored }: { instrument: Instrument; mirrored: boolean }) {
  const shape = SHAPES[instrument === 'cello' || instrument === 'bass' ? instrument : 'high'];
  const [leftX, leftY] = shape.left;
  const [rightX, rightY] = shape.right;
  const across = (x: number) => (mirrored ? 200 - x : x);
  const words = `${capital(instrument)} seen from ${mirrored ? 'the mirror' : 'the front'}: left hand on the ${mirrored ? 'left' : 'right'} of the picture`;
  return (
    <Drawing viewBox="0 0 200 190" role="img" aria-label={words}>
      <g transform={mirrored ? 'translate(200 0) scale(-1 1)' : undefined}>
        <circle cx="100" cy="34" r="16" />
        <path d="M72 66Q100 54 128 66" />
        <path className="wood" d={shape.body} />
        <path className="wood" d={shape.neck} />
        <path className="bow" d={shape.bow} />
        <path d={`M128 66Q${Math.max(leftX, 128) + 22} ${Math.max(66, leftY) + 28} ${leftX} ${leftY}`} />
        <path d={`M72 66Q${(72 + rightX) / 2 - 14} ${Math.max(66, rightY) + 6} ${rightX} ${rightY}`} />
      </g>
      <text x={across(164)} y={leftY + (instrument === 'cello' || instrument === 'bass' ? 2 : -14)}>
        left hand
      </text>
      <text x={across(38)} y={rightY + 26}>
        right hand
      </text>
    </Drawing>
  );
}
