import ButtonBase from '@mui/material/ButtonBase';
import { styled } from '@mui/material/styles';
import { memo } from 'react';
import type { RoomChild, Strand } from '../../api/client';
import { FourStrings } from '../../parts/FourStrings';
import { glyphWords, visitWords } from '../../words/room';
import { capital } from '../../words/text';

/** How far the outer chairs of a row come towards the podium, in pixels. */
const ARC = 12;

const Chair = styled(ButtonBase)(({ theme }) => ({
  position: 'relative',
  // Every chair of the room is as wide as the fullest row allows.
  flex: '0 0 auto',
  width: 'min(116px, calc((100% - 38px) / var(--most) - 8px))',
  minWidth: 44,
  containerType: 'inline-size',
  minHeight: 62,
  height: '100%',
  display: 'flex',
  flexDirection: 'column',
  alignItems: 'stretch',
  justifyContent: 'flex-start',
  padding: '3px 5px 4px',
  textAlign: 'left',
  border: `1px solid ${theme.vars.palette.divider}`,
  borderRadius: '6px 6px 18px 18px',
  color: theme.vars.palette.text.primary,
  backgroundColor: `color-mix(in oklab, ${theme.vars.palette.own.warm} calc(var(--bright) * 100%), ${theme.vars.palette.background.paper})`,
  // The letter that tells two of a name apart is never cut off.
  '& .name': {
    display: 'flex',
    gap: '0.3em',
    fontSize: 'clamp(0.8rem, 15cqi, 0.97rem)',
    fontWeight: 600,
    lineHeight: 1.25,
    whiteSpace: 'nowrap',
    '& span:first-of-type': { minWidth: 0, overflow: 'hidden', textOverflow: 'ellipsis' },
  },
  '& .below': { flex: 1, minHeight: 0, display: 'flex', justifyContent: 'space-between', gap: 2 },
  '& .sign': { minWidth: 0, flex: 1, '& svg': { maxWidth: '100%', maxHeight: 92, margin: '0 auto' } },
  '& .instrument': {
    writingMode: 'vertical-rl',
    transform: 'rotate(180deg)',
    fontSize: '0.8rem',
    lineHeight: 1.1,
    color: theme.vars.palette.text.secondary,
    textAlign: 'left',
  },
  '&:hover': { borderColor: theme.vars.palette.text.secondary },
  '&[aria-current="true"]': { outline: `3px solid ${theme.vars.palette.primary.main}`, outlineOffset: 1 },
  '&.quiet': { background: 'transparent', borderStyle: 'dashed', '& .name': { fontWeight: 400 } },
  [theme.breakpoints.down('sm')]: { width: 'auto', height: 104, transform: 'none !important' },
}));

interface Props {
  child: RoomChild;
  where: string;
  /** 0 in the middle of the row, 1 at its ends. */
  forward: number;
  shown: boolean;
  only?: Strand | undefined;
  open: boolean;
  tabbable: boolean;
  onOpen: (childId: string) => void;
  onFocus: (childId: string) => void;
}

/** A chair with the child's name and four strings; it warms as the child brightens. Drawn again only where it has changed. */
export const Seat = memo(function Seat(props: Props) {
  const { child, where, forward, shown, only, open, tabbable, onOpen, onFocus } = props;
  return (
    <Chair
      id={`seat-${child.id}`}
      className={shown ? undefined : 'quiet'}
      style={
        { '--bright': child.brightness, transform: `translateY(${forward * ARC}px)` } as React.CSSProperties
      }
      aria-current={open}
      aria-label={`${child.name}, ${child.instrument}, ${where}. ${glyphWords(child.strings)} ${capital(visitWords(child))}.`}
      title={`${glyphWords(child.strings)} ${capital(visitWords(child))}.`}
      tabIndex={tabbable ? 0 : -1}
      onClick={() => onOpen(child.id)}
      onFocus={() => onFocus(child.id)}
    >
      <span className="name">
        <span>{child.name.split(' ').slice(0, -1).join(' ') || child.name}</span>{' '}
        {child.name.includes(' ') && <span>{child.name.split(' ').at(-1)}</span>}
      </span>{' '}
      <span className="below">
        <span className="sign">
          {shown && <FourStrings strings={child.strings} size="seat" only={only} decorative />}
        </span>
        <span className="instrument">{child.instrument}</span>
      </span>
    </Chair>
  );
});
