import Stack from '@mui/material/Stack';
import {
  DndContext,
  KeyboardSensor,
  MouseSensor,
  TouchSensor,
  useDraggable,
  useDroppable,
  useSensor,
  useSensors,
  type Announcements,
  type DragEndEvent,
  type KeyboardCoordinateGetter,
} from '@dnd-kit/core';
import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import Typography from '@mui/material/Typography';
import { styled } from '@mui/material/styles';
import type { SeatPlan, Seats } from '../../api/client';
import { sitterOf, type Chair } from './seating';

type Sitter = Seats['children'][number];

const Place = styled('div')(({ theme }) => ({
  // Every chair is as wide as the fullest row allows.
  flex: '0 0 auto',
  width: 'min(128px, calc((100% - 27px) / var(--most) - 5px))',
  minWidth: 78,
  minHeight: 64,
  display: 'flex',
  borderRadius: '6px 6px 16px 16px',
  '&.empty': { border: `1px dashed ${theme.vars.palette.own.rest}` },
  '&.over': { outline: `3px solid ${theme.vars.palette.primary.main}` },
}));

const Child = styled(ButtonBase)(({ theme }) => ({
  flex: 1,
  minHeight: 60,
  minWidth: 44,
  display: 'flex',
  flexDirection: 'column',
  alignItems: 'stretch',
  justifyContent: 'center',
  padding: 4,
  textAlign: 'center',
  lineHeight: 1.15,
  fontSize: '0.92rem',
  fontWeight: 600,
  overflowWrap: 'break-word',
  touchAction: 'manipulation',
  background: theme.vars.palette.background.paper,
  color: theme.vars.palette.text.primary,
  border: `1px solid ${theme.vars.palette.divider}`,
  borderRadius: '6px 6px 16px 16px',
  // Heard, not seen.
  '& .said': { position: 'absolute', width: 1, height: 1, overflow: 'hidden', clipPath: 'inset(50%)' },
  '& .kind': { fontWeight: 400, fontSize: '0.82rem', color: theme.vars.palette.text.secondary },
  '&.broken': { borderBottom: `4px solid ${theme.vars.palette.own.flag}` },
  '&.locked': { background: theme.vars.palette.own.warm },
  '&[aria-pressed="true"]': { outline: `3px solid ${theme.vars.palette.primary.main}` },
}));

interface Props {
  plan: SeatPlan;
  children: Sitter[];
  waiting: Sitter[];
  broken: ReadonlySet<string>;
  /** The children in the order in which a round walks past them. */
  walk: string[];
  chosen: string | undefined;
  mayChange: boolean;
  onChoose: (child: string) => void;
  onMove: (child: string, chair: Chair) => void;
}

const idOf = ({ row, seat }: Chair) => `${row}:${seat}`;
function chairOf(id: string): Chair {
  const [row = 0, seat = 0] = id.split(':').map(Number);
  return { row, seat };
}

/** From chair to chair with the arrow keys: the nearest one in that direction. */
const nearest: KeyboardCoordinateGetter = (event, { context, currentCoordinates }) => {
  const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.code];
  if (!way) return undefined;
  event.preventDefault();
  const [x = 0, y = 0] = way;
  let best: { far: number; left: number; top: number } | undefined;
  for (const { left, top } of context.droppableRects.values()) {
    const [across, down] = [left - currentCoordinates.x, top - currentCoordinates.y];
    const along = across * x + down * y;
    const aside = Math.abs(across * y) + Math.abs(down * x);
    if (along < 12) continue;
    const far = along + aside * 2;
    if (!best || far < best.far) best = { far, left, top };
  }
  return best && { x: best.left, y: best.top };
};

/** The rows as the podium sees them; a child is moved by mouse, finger, or Space and the arrow keys. */
export function Chairs({
  plan,
  children,
  waiting,
  broken,
  walk,
  chosen,
  mayChange,
  onChoose,
  onMove,
}: Props) {
  const sensors = useSensors(
    useSensor(MouseSensor, { activationConstraint: { distance: 6 } }),
    useSensor(TouchSensor, { activationConstraint: { delay: 180, tolerance: 8 } }),
    useSensor(KeyboardSensor, {
      coordinateGetter: nearest,
      keyboardCodes: { start: ['Space'], cancel: ['Escape'], end: ['Space', 'Enter'] },
    }),
  );
  const nameOf = (id: unknown) => children.find((child) => child.id === id)?.name ?? '';
  const words = (id: unknown) => {
    const { row, seat } = chairOf(String(id));
    const taken = sitterOf(plan, { row, seat });
    return `row ${row}, seat ${seat}${taken ? `, ${nameOf(taken.child)}` : ''}`;
  };
  const announcements: Announcements = {
    onDragStart: ({ active }) =>
      `${nameOf(active.id)} is picked up. Arrow keys move, Space lets go, Escape leaves all as it was.`,
    onDragOver: ({ over }) => (over ? `Over ${words(over.id)}.` : ''),
    onDragEnd: ({ active, over }) =>
      over ? `${nameOf(active.id)} sits in ${words(over.id)}.` : 'Nothing moved.',
    onDragCancel: () => 'Nothing moved.',
  };
  const end = ({ active, over }: DragEndEvent) => {
    if (over) onMove(String(active.id), chairOf(String(over.id)));
  };
  const child = (sitter: Sitter, locked: boolean) => (
    <Draggable
      key={sitter.id}
      sitter={sitter}
      locked={locked}
      turn={walk.indexOf(sitter.id) + 1}
      broken={broken.has(sitter.id)}
      chosen={sitter.id === chosen}
      mayChange={mayChange}
      onChoose={() => onChoose(sitter.id)}
    />
  );
  const most = Math.max(1, ...plan.room.rows);
  const rows = plan.room.rows.map((chairs, index) => ({ row: index + 1, chairs })).reverse();
  return (
    <DndContext sensors={sensors} onDragEnd={end} accessibility={{ announcements }}>
      <Box
        sx={{ display: 'grid', gap: 1, overflowX: 'auto', p: '3px' }}
        style={{ '--most': most } as React.CSSProperties}
      >
        {rows.map(({ row, chairs }) => (
          <Stack
            direction="row"
            key={row}
            role="group"
            aria-label={`Row ${row}`}
            sx={{ gap: '5px', justifyContent: 'safe center', alignItems: 'stretch' }}
          >
            <Box aria-hidden sx={{ width: 22, alignSelf: 'center', color: 'text.secondary' }}>
              {row}
            </Box>
            {Array.from({ length: chairs }, (_, index) => {
              const chair = { row, seat: index + 1 };
              const taken = sitterOf(plan, chair);
              const sitter = children.find(({ id }) => id === taken?.child);
              return (
                <Droppable key={idOf(chair)} chair={chair}>
                  {sitter && child(sitter, taken?.locked ?? false)}
                </Droppable>
              );
            })}
          </Stack>
        ))}
        <Box sx={{ textAlign: 'center', color: 'text.secondary' }}>
          <Box sx={{ width: 150, mx: 'auto', borderTop: 2, borderColor: 'divider', pt: 0.5 }}>podium</Box>
        </Box>
        {waiting.length > 0 && (
          <Box role="group" aria-label="Without a chair">
            <Typography variant="h3" component="h2" sx={{ mb: 0.75 }}>
              Without a chair
            </Typography>
            <Stack direction="row" spacing={1} sx={{ flexWrap: 'wrap' }}>
              {waiting.map((sitter) => (
                <Stack direction="row" key={sitter.id} sx={{ width: 110 }}>
                  {child(sitter, false)}
                </Stack>
              ))}
            </Stack>
          </Box>
        )}
      </Box>
    </DndContext>
  );
}

function Droppable({ chair, children }: { chair: Chair; children: React.ReactNode }) {
  const { setNodeRef, isOver } = useDroppable({ id: idOf(chair) });
  return (
    <Place
      ref={setNodeRef}
      className={[isOver && 'over', !children && 'empty'].filter(Boolean).join(' ')}
      title={`row ${chair.row}, seat ${chair.seat}`}
    >
      {children}
    </Place>
  );
}

interface DraggableProps {
  sitter: Sitter;
  locked: boolean;
  /** When a round walks past, from 1; 0 without a chair. */
  turn: number;
  broken: boolean;
  chosen: boolean;
  mayChange: boolean;
  onChoose: () => void;
}

function Draggable({ sitter, locked, turn, broken, chosen, mayChange, onChoose }: DraggableProps) {
  const { attributes, listeners, setNodeRef, transform, isDragging } = useDraggable({
    id: sitter.id,
    disabled: locked || !mayChange,
  });
  const notes = [turn > 0 && `number ${turn} of the walk`, broken && 'a wish is not kept']
    .filter(Boolean)
    .join(', ');
  return (
    <Child
      ref={setNodeRef}
      {...listeners}
      aria-describedby={attributes['aria-describedby']}
      aria-pressed={chosen}
      className={[broken && 'broken', locked && 'locked'].filter(Boolean).join(' ')}
      style={{
        ...(transform && { transform: `translate(${transform.x}px, ${transform.y}px)` }),
        ...(isDragging && { zIndex: 2, cursor: 'grabbing' }),
      }}
      onClick={onChoose}
    >
      <span className="name">{sitter.name}</span>
      <span className="kind">
        {turn > 0 && `${turn} · `}
        {sitter.instrument}
        {locked && ', locked'}
      </span>
      <span className="said">{notes}</span>
    </Child>
  );
}
