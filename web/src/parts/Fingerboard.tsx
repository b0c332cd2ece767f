import { styled } from '@mui/material/styles';
import type { Instrument } from '../api/client';
import { letterOf } from '../words/markers';

/** A marker on the drawn fingerboard; millimetres from the nut's edge. */
export interface BoardMarker {
  finger: string;
  name: string;
  /** The colour it really has. */
  colour: string;
  /** Where the strip's nut-side edge goes. */
  edgeMm: number;
  /** Where it was found. */
  foundMm?: number | undefined;
  /** Whether it is there; one that is wanted and not there is drawn hollow. */
  on: boolean;
  off: boolean;
  /** What stands beside it. */
  words: string;
}

interface Props {
  instrument: Instrument;
  lengthMm: number;
  strings: string[];
  stripMm: number;
  markers: BoardMarker[];
  kind: 'tapes' | 'dots' | 'overlay' | 'pencil' | 'none';
  thumbMm?: number | undefined;
  /** Whether the thumb's pad is there. */
  thumbOn?: boolean;
  /** A sentence for those who do not see it. */
  label: string;
}

/** Width of a fingerboard at the nut, as a share of the string, and how much it widens to the bridge's end. */
const WIDTH: Record<Instrument, [nut: number, wider: number]> = {
  violin: [0.073, 0.06],
  viola: [0.071, 0.06],
  cello: [0.047, 0.045],
  bass: [0.041, 0.045],
};
/** How much of the string is drawn: first position and a little more. */
const SHOWN = 0.4;
const HEIGHT = 440;
const ABOVE = 30;

const Drawing = styled('svg')(({ theme }) => ({
  display: 'block',
  width: '100%',
  maxWidth: 420,
  height: 'auto',
  fontFamily: theme.typography.fontFamily,
  '& .board': { fill: theme.vars.palette.background.default, stroke: theme.vars.palette.own.rest },
  '& .nut': { fill: theme.vars.palette.text.primary },
  '& .string': { stroke: theme.vars.palette.own.rest },
  '& .target': { stroke: theme.vars.palette.text.primary, strokeDasharray: '4 3', fill: 'none' },
  '& .laid': { stroke: theme.vars.palette.text.primary },
  '& .pad': { fill: theme.vars.palette.own.rest, stroke: theme.vars.palette.text.primary },
  '& .off': { stroke: theme.vars.palette.own.flag, strokeWidth: 4 },
  '& .found': { stroke: theme.vars.palette.own.flag, strokeWidth: 2 },
  '& text': { fill: theme.vars.palette.text.primary, fontSize: 17 },
  '& .name': { fontWeight: 700, fontSize: 22 },
}));

/** A fingerboard in true proportion: where each marker belongs, where it lies, and how far it is off. */
export function Fingerboard(props: Props) {
  const { instrument, lengthMm, strings, stripMm, markers, kind, thumbMm, thumbOn, label } = props;
  const scale = HEIGHT / (SHOWN * lengthMm);
  const [nut, wider] = WIDTH[instrument];
  const half = (mm: number) => ((nut + wider * (mm / lengthMm)) * lengthMm * scale) / 2;
  const middle = 130;
  const down = (mm: number) => ABOVE + mm * scale;
  const end = lengthMm * SHOWN;
  const words = spread(markers.map(({ edgeMm }) => down(edgeMm + stripMm / 2)));
  return (
    <Drawing viewBox={`0 0 420 ${HEIGHT + ABOVE + 8}`} role="img" aria-label={label}>
      <path
        className="board"
        d={`M${middle - half(0)} ${down(0)}L${middle + half(0)} ${down(0)}L${middle + half(end)} ${down(end)}L${middle - half(end)} ${down(end)}Z`}
      />
      <rect className="nut" x={middle - half(0) - 4} y={down(0) - 7} width={2 * half(0) + 8} height={7} />
      {markers.map((marker) => {
        const x = middle - half(marker.edgeMm);
        const width = 2 * half(marker.edgeMm);
        const tall = Math.max(stripMm * scale, 3);
        const tone = { className: marker.off ? 'off' : 'laid', fill: marker.colour };
        const at = down(marker.foundMm ?? marker.edgeMm);
        return (
          <g key={marker.finger}>
            {marker.on && kind !== 'dots' && (
              <rect {...tone} x={x} y={at} width={width} height={kind === 'pencil' ? 2 : tall} />
            )}
            {marker.on && kind === 'dots' && <circle {...tone} cx={middle} cy={at + tall / 2} r={6} />}
            {(!marker.on || marker.foundMm !== undefined) && (
              <rect className="target" x={x - 3} y={down(marker.edgeMm)} width={width + 6} height={tall} />
            )}
          </g>
        );
      })}
      {strings.map((string, index) => {
        const at = (mm: number) => middle + half(mm) * (((index + 0.5) / strings.length) * 2 - 1) * 0.86;
        return (
          <g key={string}>
            <line
              className="string"
              x1={at(0)}
              y1={down(0)}
              x2={at(end)}
              y2={down(end)}
              strokeWidth={3 - index * 0.6}
            />
            <text x={at(0)} y={ABOVE - 12} textAnchor="middle">
              {letterOf(string)}
            </text>
          </g>
        );
      })}
      {thumbMm !== undefined && (
        <>
          <circle
            className={thumbOn ? 'pad' : 'target'}
            cx={middle - half(thumbMm) - 16}
            cy={down(thumbMm)}
            r={11}
          />
          <text x={middle - half(thumbMm) - 34} y={down(thumbMm) + 6} textAnchor="end">
            thumb
          </text>
        </>
      )}
      {markers.map((marker, index) => {
        const y = words[index] ?? 0;
        const edge = middle + half(marker.edgeMm) + 6;
        return (
          <g key={marker.finger}>
            <path
              className="string"
              fill="none"
              d={`M${edge} ${down(marker.edgeMm + stripMm / 2)}L222 ${y}`}
            />
            <text className="name" x={228} y={y + 7}>
              {marker.name}
            </text>
            <text x={marker.name.length > 1 ? 318 : 252} y={y + 6}>
              {marker.words}
            </text>
          </g>
        );
      })}
    </Drawing>
  );
}

/** Heights for words beside markers, none nearer to the next than a line. */
function spread(heights: number[]): number[] {
  const LINE = 26;
  const order = heights.map((y, index) => [y, index] as const).sort(([a], [b]) => a - b);
  const placed: number[] = [];
  let last = -Infinity;
  for (const [y, index] of order) {
    last = Math.max(y, last + LINE);
    placed[index] = last;
  }
  return placed;
}
