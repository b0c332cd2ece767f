import ButtonBase from '@mui/material/ButtonBase';
import { styled } from '@mui/material/styles';
import { LEVEL_MEANING, LEVELS } from '../words';

const Keys = styled('div')({
  display: 'flex',
  flex: 'none',
  '&.wide > button': { flex: '1 1 0', height: 60, flexDirection: 'column', minWidth: 0, padding: 0 },
  '& small': { fontSize: '0.8rem', lineHeight: 1.2 },
});

const Key = styled(ButtonBase)(({ theme }) => ({
  minWidth: 44,
  height: 44,
  padding: theme.spacing(0, 1),
  fontSize: '1.05rem',
  color: theme.vars.palette.text.primary,
  background: theme.vars.palette.background.paper,
  border: `1px solid ${theme.vars.palette.divider}`,
  marginLeft: -1,
  '&:first-of-type': { borderTopLeftRadius: 12, borderBottomLeftRadius: 12, marginLeft: 0 },
  '&:last-of-type': { borderTopRightRadius: 12, borderBottomRightRadius: 12 },
  '&[aria-pressed="true"]': {
    background: theme.vars.palette.own.glow,
    borderColor: theme.vars.palette.own.glowEdge,
    color: theme.vars.palette.own.onGlow,
    fontWeight: 700,
    zIndex: 1,
  },
  '&:hover': { borderColor: theme.vars.palette.text.secondary, zIndex: 2 },
  '&:focus-visible': { zIndex: 3 },
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
  return (
    <Keys className={wide ? 'wide' : undefined} role="group" aria-label={`Level of ${name}`}>
      {(tape ? TAPE_KEYS : LEVEL_KEYS).map((key) => (
        <Key
          key={key.level}
          aria-pressed={level !== undefined && (tape ? key.level >= 3 === level >= 3 : key.level === level)}
          aria-label={tape ? key.text : `${key.level}${wide ? '' : ','} ${LEVELS[key.level] ?? ''}`}
          title={key.meaning}
          onClick={() => onObserve(key.level)}
        >
          {key.text}
          {wide && !tape && <small> {LEVELS[key.level]}</small>}
        </Key>
      ))}
    </Keys>
  );
}
