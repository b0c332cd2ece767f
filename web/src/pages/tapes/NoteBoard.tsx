import { styled } from '@mui/material/styles';
import type { Schemas, Voice } from '../../api/client';
import { colourOf } from '../../words/markers';
import { capital } from '../../words/text';

type BoardPosition = Schemas['BoardPosition'];

const Drawing = styled('svg')(({ theme }) => ({
  display: 'block',
  width: '100%',
  height: 'auto',
  fontFamily: theme.typography.fontFamily,
  '& .nut': { stroke: theme.vars.palette.text.primary, strokeWidth: 5 },
  '& .string': { stroke: theme.vars.palette.own.rest },
  '& .marker': { stroke: theme.vars.palette.own.glow, strokeWidth: 5, opacity: 0.6 },
  '& .coloured': { strokeWidth: 5 },
  '& .unmarked': { stroke: theme.vars.palette.own.line, strokeDasharray: '3 4' },
  '& .used': { fill: theme.vars.palette.background.paper, stroke: theme.vars.palette.text.primary },
  '& .now': { fill: theme.vars.palette.own.glow, stroke: theme.vars.palette.own.glowEdge, strokeWidth: 2 },
  '& .edge': { stroke: theme.vars.palette.text.primary, strokeWidth: 7 },
  '& text': { fill: theme.vars.palette.text.primary, fontSize: 17, textAnchor: 'middle' },
  '& .now + text': { fill: theme.vars.palette.own.onGlow, fontWeight: 700 },
}));

/** Low 2 is written L2. */
export function fingerShort(finger: string): string {
  return finger.replace('low', 'L');
}

interface Props {
  voice: Voice;
  /** Of fingers 1 to 4, where each has its own. */
  colours: Schemas['ColourView'][] | undefined;
  /** The positions that are lit. */
  now: BoardPosition[];
}

/** One instrument's first position with the positions that a tune uses; those of the note that is lit stand out. */
export function NoteBoard({ voice, colours, now }: Props) {
  const [left, top, apart, tall] = [34, 44, 48, 250];
  const reach = Math.max(...voice.fingers.map(({ share }) => share), 0.25);
  const x = (string: number) => left + apart * (string + 0.5);
  const y = (share: number) => top + (share / reach) * tall;
  const shareOf = (finger: string | undefined) =>
    voice.fingers.find((one) => one.finger === finger)?.share ?? 0;
  const keyOf = ({ string, finger }: BoardPosition) => `${string}-${finger ?? 'open'}`;
  const used = new Map(
    [...voice.notes.flatMap(({ position }) => (position ? [position] : [])), ...voice.everywhere].map(
      (position) => [keyOf(position), position],
    ),
  );
  const lit = new Set(now.map(keyOf));
  const words = now
    .map(({ letter, finger }) => (finger ? `${finger} on ${letter}` : `open ${letter}`))
    .join(', ');
  return (
    <Drawing
      viewBox={`0 0 ${left * 2 + apart * 4} ${top + tall + 36}`}
      role="img"
      aria-label={`${capital(voice.instrument)}: ${words || 'not in first position'}`}
    >
      {voice.fingers.map(({ finger, share, marked }) => {
        const line = { x1: left, x2: left + apart * 4, y1: y(share), y2: y(share) };
        return (
          <g key={finger}>
            {marked && colours && <line className="edge" {...line} />}
            <line
              className={marked ? (colours ? 'coloured' : 'marker') : 'unmarked'}
              {...(marked && colours && { stroke: colourOf(colours, finger).hex })}
              {...line}
            />
          </g>
        );
      })}
      {voice.strings.map((string, index) => (
        <g key={string}>
          <line
            className="string"
            x1={x(index)}
            x2={x(index)}
            y1={top}
            y2={top + tall + 26}
            strokeWidth={3.2 - index * 0.6}
          />
          <text x={x(index)} y={top - 26}>
            {string}
          </text>
        </g>
      ))}
      <line className="nut" x1={left} x2={left + apart * 4} y1={top} y2={top} />
      {[...used.entries()].map(([key, position]) => (
        <g key={key}>
          <circle
            className={lit.has(key) ? 'now' : 'used'}
            cx={x(position.string)}
            cy={position.finger ? y(shareOf(position.finger)) : top - 11}
            r={position.finger ? 17 : 9}
          />
          {position.finger && (
            <text x={x(position.string)} y={y(shareOf(position.finger)) + 6}>
              {fingerShort(position.finger)}
            </text>
          )}
        </g>
      ))}
    </Drawing>
  );
}
