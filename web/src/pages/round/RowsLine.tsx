import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import { styled } from '@mui/material/styles';
import visuallyHidden from '@mui/utils/visuallyHidden';
import type { RoundKit } from '../../api/client';
import { rowsWithoutSeat } from '../../parts/withoutSeat';
import { SECTIONS } from '../../words/looks';

const Floor = styled('div')({ position: 'relative', display: 'grid', gap: 16 });

const Line = styled('svg')(({ theme }) => ({
  position: 'absolute',
  inset: 0,
  width: '100%',
  height: '100%',
  pointerEvents: 'none',
  fill: 'none',
  stroke: theme.vars.palette.own.glowEdge,
  strokeWidth: 4,
  strokeLinejoin: 'round',
  strokeLinecap: 'round',
}));

const Chair = styled(ButtonBase)(({ theme }) => ({
  position: 'relative',
  minWidth: 0,
  minHeight: 56,
  width: '100%',
  flexDirection: 'column',
  justifyContent: 'center',
  padding: '2px 3px',
  containerType: 'inline-size',
  fontSize: '0.95rem',
  lineHeight: 1.15,
  textAlign: 'center',
  // The letter that tells two of a name apart is never cut off.
  '& .name': {
    display: 'flex',
    flexWrap: 'wrap',
    justifyContent: 'center',
    columnGap: '0.3em',
    maxWidth: '100%',
    fontSize: 'clamp(0.75rem, 24cqi, 0.95rem)',
    '& span:first-of-type': {
      minWidth: 0,
      overflow: 'hidden',
      textOverflow: 'ellipsis',
      whiteSpace: 'nowrap',
    },
  },
  color: theme.vars.palette.text.primary,
  border: `1px solid ${theme.vars.palette.divider}`,
  borderRadius: '6px 6px 16px 16px',
  background: theme.vars.palette.background.paper,
  '& b': { fontSize: 'clamp(0.72rem, 24cqi, 0.85rem)', fontWeight: 700 },
  '&.lit': { background: theme.vars.palette.own.warm, borderColor: theme.vars.palette.own.glowEdge },
  '&.done': { background: theme.vars.palette.own.glow, color: theme.vars.palette.own.onGlow },
  '&.now': { outline: `3px solid ${theme.vars.palette.primary.main}`, outlineOffset: 1 },
  '&.away': { borderStyle: 'dashed', background: 'transparent', textDecoration: 'line-through' },
}));

export interface ChairLook {
  className: string;
  /** Under the name: `1`, `pinned`. */
  below?: string | undefined;
  /** For those who do not see the picture. */
  words: string;
  pressed?: boolean;
}

interface Props {
  kit: RoundKit;
  /** Who is walked to, in order. */
  walk: readonly string[];
  look: (child: string) => ChairLook;
  onTap?: ((child: string) => void) | undefined;
}

/** The rows as the podium sees them, with the walk as a line through those who are visited. */
export function RowsLine({ kit, walk, look, onTap }: Props) {
  const rows = rowsOf(kit);
  const most = Math.max(1, ...rows.map(({ children }) => children.length));
  const places = new Map<string, [number, number]>();
  rows.forEach(({ children }, down) => {
    children.forEach((child, across) => {
      const x = ((most - children.length) / 2 + across + 0.5) / most;
      places.set(child.id, [x * 100, ((down + 0.5) / rows.length) * 100]);
    });
  });
  const points = walk.flatMap((child) => [places.get(child) ?? []]).filter((point) => point.length > 0);
  return (
    <Floor>
      <Line viewBox="0 0 100 100" preserveAspectRatio="none" aria-hidden>
        <polyline
          vectorEffect="non-scaling-stroke"
          points={points.map((point) => point.join(',')).join(' ')}
        />
      </Line>
      {rows.map(({ name, children }) => (
        <Box
          key={children[0]?.id}
          role="group"
          aria-label={name}
          sx={{
            display: 'grid',
            gridTemplateColumns: `repeat(${most * 2}, minmax(0, 1fr))`,
            columnGap: '5px',
          }}
        >
          {children.map((child, across) => {
            const { className, below, words, pressed } = look(child.id);
            return (
              <Chair
                key={child.id}
                className={className}
                disabled={!onTap}
                {...(pressed !== undefined && { 'aria-pressed': pressed })}
                onClick={() => onTap?.(child.id)}
                sx={{ gridColumn: `${across === 0 ? most - children.length + 1 : 'auto'} / span 2` }}
              >
                <span className="name">
                  {child.name.split(' ').map((word) => (
                    <span key={word}>{word}</span>
                  ))}
                </span>
                {below && <b>{below}</b>}
                <span style={visuallyHidden}>, {words}</span>
              </Chair>
            );
          })}
        </Box>
      ))}
    </Floor>
  );
}

/** So many chairs without a seat stand side by side at most, on a phone too. */
const MOST_WITHOUT_SEAT = 6;

/** The rows from the back to the podium, each from the podium's left; who has no seat sits behind them all, by section and name. */
function rowsOf(kit: RoundKit) {
  const seated = new Set(kit.children.flatMap(({ row }) => (row === undefined ? [] : [row])));
  const without = kit.children.filter(({ row }) => row === undefined);
  return [
    ...rowsWithoutSeat(without, MOST_WITHOUT_SEAT).map(({ section, children }, row) => ({
      name: `${SECTIONS[section]} without a seat`,
      children: row % 2 === 0 ? children : children.toReversed(),
    })),
    ...[...seated]
      .toSorted((a, b) => b - a)
      .map((row) => {
        const children = kit.children.filter((child) => child.row === row);
        // The walk goes back along every second row.
        return { name: `Row ${row}`, children: row % 2 === 0 ? children.toReversed() : children };
      }),
  ];
}
