import { styled } from '@mui/material/styles';
import type { Strand, StringView } from '../api/client';
import { glyphWords, isDue, isLate } from '../words/room';
import { BOX, BRIDGE_PATH, drawString, NUT } from './stringGlyph';

const HEIGHTS = { seat: '100%', list: 44, card: 84 } as const;

const Drawing = styled('svg')(({ theme }) => ({
  display: 'block',
  aspectRatio: `${BOX.width} / ${BOX.height}`,
  overflow: 'visible',
  fill: 'none',
  '& .nut': { stroke: theme.vars.palette.text.primary, strokeWidth: NUT.thickness },
  '& .bridge': { stroke: theme.vars.palette.own.rest, strokeWidth: 1.6 },
  '& .string': { stroke: theme.vars.palette.own.rest },
  '& .dot': { fill: theme.vars.palette.own.rest },
  '& .ringing': {
    fill: theme.vars.palette.own.glow,
    stroke: theme.vars.palette.own.glowEdge,
    strokeWidth: 0.7,
  },
  '& .hollow': {
    fill: theme.vars.palette.background.paper,
    stroke: theme.vars.palette.own.glowEdge,
    strokeWidth: 1.7,
  },
  '& .late': { stroke: theme.vars.palette.text.primary, strokeWidth: 2.4 },
  '& .flag': { fill: theme.vars.palette.own.flag },
  '& .aside': { opacity: 0.22 },
  '& g': { transition: 'opacity 150ms' },
}));

interface Props {
  strings: StringView[];
  size: keyof typeof HEIGHTS;
  /** Look at one strand: it grows, the others step back. */
  only?: Strand | undefined;
  /** The sign stands beside words that say the same. */
  decorative?: boolean;
}

/**
 * A child's four strings: Hold, Bow grip, Left-hand frame, Tapes, each ringing as far as it is learned. Hollow where a look at
 * what stands is due, with a stroke across where it is late.
 */
export function FourStrings({ strings, size, only, decorative = false }: Props) {
  const said = decorative ? { 'aria-hidden': true } : { role: 'img', 'aria-label': glyphWords(strings) };
  return (
    <Drawing viewBox={`0 0 ${BOX.width} ${BOX.height}`} style={{ height: HEIGHTS[size] }} {...said}>
      {!decorative && <title>{glyphWords(strings)}</title>}
      {strings.map((string, index) => {
        const alone = only === string.strand;
        const drawn = drawString(index, string, alone);
        const { x, foot } = drawn;
        return (
          <g key={string.strand} className={only && !alone ? 'aside' : undefined}>
            <path className="string" strokeWidth={drawn.thickness} d={`M${x} ${NUT.y}V${foot}`} />
            {drawn.spindle ? (
              <>
                <path className={isDue(string.recheck) ? 'hollow' : 'ringing'} d={drawn.spindle} />
                {isLate(string.recheck) && <path className="late" d={drawn.across} />}
              </>
            ) : (
              <circle className="dot" cx={x} cy={foot - 2.6} r={2.6} />
            )}
            {string.flags.length > 0 && <path className="flag" d={`M${x} 0l4.6 5-4.6 5-4.6-5Z`} />}
          </g>
        );
      })}
      <path className="nut" d={`M${NUT.left} ${NUT.y}H${NUT.right}`} />
      <path className="bridge" d={BRIDGE_PATH} />
    </Drawing>
  );
}
