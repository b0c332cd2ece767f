import { styled } from '@mui/material/styles';
import type { Instrument } from '../api/client';
import { ask, useFiguresAreThere, type Question } from '../core/door';
import { figureWords, LABELS, type Drawn } from '../words/figures';

export type Spec = Question<'figure'>['spec'];

const Drawing = styled('svg')(({ theme: { vars } }) => ({
  display: 'block',
  width: '100%',
  height: '100%',
  strokeLinejoin: 'round',
  strokeLinecap: 'round',
  // Outlines of one shape melt: the ink of all of them first, then the paper.
  paintOrder: 'stroke',
  stroke: vars.palette.text.primary,
  strokeWidth: 'var(--line)',
  fill: 'none',
  '& .wood': { fill: vars.palette.own.wood },
  '& .board, & .frog': { fill: vars.palette.own.board },
  '& .string': { fill: vars.palette.text.primary, stroke: 'none' },
  '& .hair': { fill: vars.palette.own.hair, stroke: 'none' },
  '& .ferrule': { fill: vars.palette.own.metal },
  '& .limb': { fill: vars.palette.own.limb, strokeWidth: 'calc(var(--line) * 2)' },
  '& .faded': {
    fill: vars.palette.own.limb,
    stroke: vars.palette.own.rest,
    strokeWidth: 'calc(var(--line) * 1.6)',
  },
  '& .skin': { fill: vars.palette.own.limb, stroke: 'none' },
  '& .soft': { fill: vars.palette.own.soft },
  '& .marker': { fill: vars.palette.own.limb, stroke: 'none' },
  '& .ghost': {
    stroke: vars.palette.text.secondary,
    strokeDasharray: 'calc(var(--line) * 1.6)',
    strokeWidth: 'calc(var(--line) * 0.8)',
  },
  '& .guide': {
    stroke: vars.palette.text.secondary,
    strokeDasharray: 'calc(var(--line) * 3) calc(var(--line) * 2.4)',
    strokeWidth: 'calc(var(--line) * 0.7)',
  },
  '& .touch, & .sounding': { fill: vars.palette.own.glow, strokeWidth: 'calc(var(--line) * 0.6)' },
  '& .good': { stroke: vars.palette.primary.main, strokeWidth: 'calc(var(--line) * 1.5)' },
  '& .amiss': { fill: vars.palette.own.flag, stroke: vars.palette.background.paper },
  '& text': {
    fill: vars.palette.text.primary,
    stroke: vars.palette.background.paper,
    strokeWidth: 'calc(var(--line) * 3)',
    fontSize: 'calc(var(--line) * 7)',
    textAnchor: 'middle',
    dominantBaseline: 'central',
  },
  '@media (forced-colors: active)': {
    stroke: 'CanvasText',
    '& .wood, & .ferrule, & .soft, & .limb, & .faded, & .skin, & .marker': { fill: 'Canvas' },
    '& .board, & .frog, & .string, & .hair': { fill: 'CanvasText' },
    '& .touch, & .sounding': { fill: 'Highlight' },
    '& .amiss': { fill: 'Mark', stroke: 'CanvasText' },
    '& .good': { stroke: 'Highlight' },
    '& .ghost, & .guide': { stroke: 'GrayText' },
    '& text': { fill: 'CanvasText', stroke: 'Canvas' },
  },
}));

interface ShapesProps {
  drawn: Drawn;
  /** What it shows; without words it is decoration beside its text. */
  what?: string | undefined;
  labelled?: boolean | undefined;
}

/** A drawing that is there already. */
export function Shapes({ drawn, what, labelled = false }: ShapesProps) {
  const name = what === undefined ? { 'aria-hidden': true } : { role: 'img', 'aria-label': what };
  return (
    <Drawing
      {...name}
      viewBox={`0 0 ${drawn.width} ${drawn.height}`}
      style={{ '--line': `${drawn.line}px` } as React.CSSProperties}
    >
      {drawn.shapes.map((shape, index) => (
        <path key={index} className={shape.class} d={shape.d} />
      ))}
      {labelled &&
        drawn.labels.map(({ word, x, y }) => (
          <text key={word} x={x} y={y}>
            {LABELS[word]}
          </text>
        ))}
    </Drawing>
  );
}

interface Props {
  spec: Spec;
  instrument: Instrument;
  /** What it shows, as its words say. */
  what: string;
  mirrored?: boolean | undefined;
  /** How it was before: behind it as a fine line, or on the way from there where `share` says how far. */
  before?: Spec | undefined;
  share?: number | undefined;
  labelled?: boolean | undefined;
}

/** A hand, an arm, a body as the core draws it; nothing until the drawings are there. */
export function Figure({ spec, instrument, what, mirrored = false, before, share, labelled }: Props) {
  if (!useFiguresAreThere()) return null;
  const asked = { ...(before && { before }), ...(share !== undefined && { share }) };
  const drawn = ask('figure', { instrument, spec, mirrored, ...asked });
  return <Shapes drawn={drawn} what={figureWords(what, drawn.touches)} labelled={labelled} />;
}
