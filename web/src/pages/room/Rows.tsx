import Box from '@mui/material/Box';
import { styled } from '@mui/material/styles';
import { useState, type CSSProperties, type KeyboardEvent } from 'react';
import type { RoomChild } from '../../api/client';
import { SECTIONS } from '../../words/looks';
import { forward, isShown, neighbour, rowsOf, type Direction, type Row, type Show } from './rows';
import { Seat } from './Seat';

const Floor = styled('div')(({ theme }) => ({
  flex: 1,
  minHeight: 0,
  display: 'flex',
  flexDirection: 'column',
  gap: 6,
  padding: '4px 4px 8px',
  overflow: 'auto',
  [theme.breakpoints.down('sm')]: { overflow: 'visible', gap: theme.spacing(2) },
}));

const Line = styled('div')(({ theme }) => ({
  flex: '1 1 0',
  minHeight: 74,
  maxHeight: 132,
  display: 'flex',
  justifyContent: 'center',
  alignItems: 'stretch',
  gap: 8,
  // The outer chairs of the arc reach below the line.
  marginBottom: 10,
  // Without seats there are no rows to keep: names stay readable, and the line breaks where it has to.
  '&.without-seat': { flex: 'none', maxHeight: 'none', flexWrap: 'wrap' },
  [theme.breakpoints.up('sm')]: { '&.without-seat > button': { width: 104, height: 96 } },
  [theme.breakpoints.down('sm')]: {
    flex: 'none',
    maxHeight: 'none',
    display: 'grid',
    gridTemplateColumns: 'repeat(4, minmax(0, 1fr))',
    gap: 6,
    marginBottom: 0,
  },
}));

const End = styled('div')(({ theme }) => ({
  flex: 'none',
  width: 30,
  alignSelf: 'center',
  display: 'flex',
  flexDirection: 'column',
  alignItems: 'center',
  gap: 3,
  fontSize: '0.85rem',
  color: theme.vars.palette.text.secondary,
  [theme.breakpoints.down('sm')]: { gridColumn: '1 / -1', width: 'auto', flexDirection: 'row', gap: 8 },
}));

/** A row's light: a lying string that rings as far as the row is bright. */
function RowLight({ row }: { row: Row }) {
  const half = 13 * Math.max(0.12, row.brightness);
  const words = `Row ${row.number}: ${Math.round(row.brightness * 100)} % lit`;
  return (
    <End title={words}>
      <span aria-hidden>{row.number}</span>
      <Box
        component="svg"
        role="img"
        aria-label={words}
        viewBox="0 0 30 12"
        sx={{
          width: 30,
          height: 12,
          '& line': { stroke: (theme) => theme.vars.palette.own.rest },
          '& path': {
            fill: (theme) => theme.vars.palette.own.glow,
            stroke: (theme) => theme.vars.palette.own.glowEdge,
          },
        }}
      >
        <line x1="1" x2="29" y1="6" y2="6" />
        <path
          strokeWidth="0.7"
          d={`M${15 - half} 6Q15 ${6 - 8 * row.brightness - 2} ${15 + half} 6Q15 ${6 + 8 * row.brightness + 2} ${15 - half} 6Z`}
        />
      </Box>
    </End>
  );
}

interface Props {
  children: readonly RoomChild[];
  show: Show;
  openId?: string | undefined;
  onOpen: (childId: string) => void;
}

/** The rows of chairs as the podium sees them. */
export function Rows({ children, show, openId, onOpen }: Props) {
  const rows = rowsOf(children);
  const [lastFocus, setLastFocus] = useState<string>();
  // One chair is in the tab order: where the focus last was, else the open child, else the first chair at the podium.
  const known = (id: string | undefined) => id !== undefined && children.some((child) => child.id === id);
  const tabbable = [lastFocus, openId].find(known) ?? rows.at(-1)?.children[0]?.id;

  const most = Math.max(1, ...rows.map((row) => (row.section ? 0 : row.children.length)));

  const move = (event: KeyboardEvent) => {
    if (!['ArrowLeft', 'ArrowRight', 'ArrowUp', 'ArrowDown'].includes(event.key) || !tabbable) return;
    event.preventDefault();
    const next = neighbour(rows, tabbable, event.key as Direction);
    if (next) document.getElementById(`seat-${next.id}`)?.focus();
  };

  return (
    // The chairs are the controls; their common parent only hears the arrow keys pressed on them.

    <Floor onKeyDown={move} style={{ '--most': most } as CSSProperties}>
      {rows.map((row) => (
        <Line
          key={row.key}
          className={row.section && 'without-seat'}
          role="group"
          aria-label={row.section ? `${SECTIONS[row.section]} without a seat` : `Row ${row.number}`}
        >
          {row.number > 0 && <RowLight row={row} />}
          {row.children.map((child, index) => (
            <Seat
              key={child.id}
              child={child}
              where={child.seat ? `row ${child.seat.row}, seat ${child.seat.seat}` : 'without a seat'}
              forward={row.section ? 0 : forward(index, row.children.length)}
              shown={isShown(child, show)}
              only={show.strand}
              open={child.id === openId}
              tabbable={child.id === tabbable}
              onOpen={onOpen}
              onFocus={setLastFocus}
            />
          ))}
        </Line>
      ))}
    </Floor>
  );
}
