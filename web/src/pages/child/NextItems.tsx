import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import Typography from '@mui/material/Typography';
import { styled } from '@mui/material/styles';
import type { NextItem } from '../../api/client';
import { nextName, nextWords, whyWords } from '../../words/next';

const Item = styled(ButtonBase)(({ theme }) => ({
  width: '100%',
  minHeight: 52,
  display: 'grid',
  gridTemplateColumns: '26px minmax(0, 1fr)',
  alignItems: 'baseline',
  textAlign: 'left',
  lineHeight: 1.25,
  fontSize: '1rem',
  padding: theme.spacing(0.75, 1),
  borderTop: `1px solid ${theme.vars.palette.divider}`,
  '& .number': { fontFamily: theme.typography.h1.fontFamily, fontWeight: 800, fontSize: '1.2rem' },
  '& .why': { color: theme.vars.palette.text.secondary, fontSize: '0.92rem' },
  '&.pain': {
    background: theme.vars.palette.own.care,
    boxShadow: `inset 4px 0 ${theme.vars.palette.own.flag}`,
  },
  '&:hover': { background: theme.vars.palette.background.default },
}));

interface Props {
  next: NextItem[];
  /** Goes to a checkpoint or stage. */
  onGo: (target: string) => void;
  /** Goes to the strand of the tapes. */
  onTapes: () => void;
}

/** What comes next, at most three, each with its reason; a tap goes there. */
export function NextItems({ next, onGo, onTapes }: Props) {
  return (
    <Box component="section" aria-label="Next">
      <Typography variant="h3" component="h3" sx={{ px: 1, pb: 0.25 }}>
        Next
      </Typography>
      {next.length === 0 && (
        <Typography sx={{ px: 1, pb: 1, color: 'text.secondary' }}>
          Nothing wants work now: everything open is at Alone, and nothing is due.
        </Typography>
      )}
      {next.map((item, index) => (
        <Item
          key={item.target}
          className={item.kind}
          onClick={() => (item.kind === 'tapes' ? onTapes() : onGo(item.target))}
        >
          <span className="number">{index + 1}</span>
          <span>
            <strong>{nextName(item)}:</strong> {nextWords(item)}
            {item.oftenFrom.length > 0 && <> Look first at: {item.oftenFrom.join(', ')}.</>}
            <br />
            <span className="why">{whyWords(item)}.</span>
          </span>
        </Item>
      ))}
    </Box>
  );
}
