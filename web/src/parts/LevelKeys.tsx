import ToggleButton from '@mui/material/ToggleButton';
import Tooltip from '@mui/material/Tooltip';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import { styled } from '@mui/material/styles';
import { useRef, useState } from 'react';
import { afterPicture } from '../afterPicture';
import { LEVEL_MEANING, LEVELS } from '../words/looks';

const Keys = styled(ToggleButtonGroup)(({ theme: { vars } }) => ({
  flex: 'none',
  '& .MuiToggleButton-root': {
    minWidth: 44,
    minHeight: 44,
    padding: '0 8px',
    fontSize: '1.05rem',
    borderRadius: 0,
    '&.Mui-selected': {
      background: vars.palette.own.glow,
      borderColor: vars.palette.own.glowEdge,
      color: vars.palette.own.onGlow,
      fontWeight: 700,
      zIndex: 1,
    },
  },
  '& .MuiToggleButtonGroup-middleButton, & .MuiToggleButtonGroup-lastButton': {
    borderLeft: `1px solid ${vars.palette.divider}`,
  },
  '& .MuiToggleButtonGroup-firstButton': { borderTopLeftRadius: 12, borderBottomLeftRadius: 12 },
  '& .MuiToggleButtonGroup-lastButton': { borderTopRightRadius: 12, borderBottomRightRadius: 12 },
  '&.wide': { display: 'flex' },
  '&.wide .MuiToggleButton-root': {
    flex: '1 1 0',
    height: 60,
    flexDirection: 'column',
    minWidth: 0,
    padding: 0,
  },
  '& small': { fontSize: '0.8rem', lineHeight: 1.2 },
}));

/** A tape is there or it is not; these stand for its two levels. */
const TAPE_KEYS = [
  { level: 0, text: 'Not there', meaning: 'not there, or no longer true' },
  { level: 3, text: 'There', meaning: 'there and true' },
];

const LEVEL_KEYS = LEVELS.map((name, level) => ({
  level,
  text: String(level),
  meaning: `${name}: ${LEVEL_MEANING[level] ?? ''}`,
}));

interface Props {
  /** What is recorded, for the keys' names. */
  name: string;
  level?: number | undefined;
  tape?: boolean;
  /** Over the whole width, each key with its name: for a thumb, and for somebody who is here for a day. */
  wide?: boolean;
  onObserve: (level: number) => void;
}

/** One key a level: one tap is one observation. */
export function LevelKeys({ name, level, tape = false, wide = false, onObserve }: Props) {
  const keys = tape ? TAPE_KEYS : LEVEL_KEYS;
  // The tap itself is seen at once; what follows from it for the child and the room is worked out after that picture.
  const [tapped, setTapped] = useState<number>();
  const shown = tapped ?? level;
  const pressed = shown !== undefined && tape ? (shown >= 3 ? 3 : 0) : shown;
  const tap = (key: number) => {
    setTapped(key);
    afterPicture(() => {
      onObserve(key);
      setTapped(undefined);
    });
  };
  // Which key is pointed at matters only when the tooltip opens: nothing is drawn anew for a tap.
  const pointed = useRef<string>(undefined);
  const [asked, setAsked] = useState<string>();
  const point = ({ target }: { target: EventTarget }) => {
    pointed.current = (target as Element).closest('button')?.value;
    if (asked !== undefined) setAsked(pointed.current);
  };
  return (
    // One for all keys, above them: one for each would be set up five times in every row, and lie over the look-for below.
    <Tooltip
      title={keys.find((key) => String(key.level) === asked)?.meaning ?? `Level of ${name}`}
      placement="top"
      onOpen={() => setAsked(pointed.current)}
      onClose={() => setAsked(undefined)}
    >
      <Keys
        exclusive
        value={pressed ?? null}
        className={wide ? 'wide' : undefined}
        aria-label={`Level of ${name}`}
        onPointerOver={point}
        onFocusCapture={point}
      >
        {keys.map((key) => (
          <ToggleButton
            key={key.level}
            value={key.level}
            // A key that is pressed looks so; a wave over it would cost more than the tap.
            disableRipple
            aria-label={tape ? key.text : `${key.level}${wide ? '' : ','} ${LEVELS[key.level] ?? ''}`}
            // Pressed again it is another observation of the same level.
            onClick={() => tap(key.level)}
          >
            {key.text}
            {wide && !tape && <small> {LEVELS[key.level]}</small>}
          </ToggleButton>
        ))}
      </Keys>
    </Tooltip>
  );
}
