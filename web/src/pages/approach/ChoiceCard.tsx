import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import Typography from '@mui/material/Typography';
import { styled } from '@mui/material/styles';
import type { Choice } from '../../api/client';
import { Card } from '../../parts/page';
import { count } from '../../words';
import { onWords } from './Changes';

const Option = styled(ButtonBase)(({ theme }) => ({
  width: '100%',
  minHeight: 52,
  display: 'grid',
  gridTemplateColumns: '30px minmax(0, 1fr)',
  alignItems: 'baseline',
  textAlign: 'left',
  fontSize: '1rem',
  lineHeight: 1.3,
  padding: theme.spacing(0.75, 0.5),
  borderTop: `1px solid ${theme.vars.palette.divider}`,
  '& .suits': { color: theme.vars.palette.text.secondary },
  // A peg: turned in when the option is chosen.
  '& .peg': {
    width: 18,
    height: 18,
    alignSelf: 'center',
    borderRadius: '50%',
    border: `2px solid ${theme.vars.palette.text.secondary}`,
  },
  '&[aria-checked="true"] .peg': {
    borderColor: theme.vars.palette.own.glowEdge,
    background: theme.vars.palette.own.glow,
  },
  '&[aria-checked="true"]': { background: theme.vars.palette.background.default },
  '&.Mui-disabled': { color: 'inherit' },
}));

interface Props {
  choice: Choice;
  chosen: string;
  /** Children who go their own way here. */
  overrides: number;
  disabled: boolean;
  onChoose: (option: string) => void;
}

/** One choice: each option with what it means, who likes it, and why the first is the default. */
export function ChoiceCard({ choice, chosen, overrides, disabled, onChoose }: Props) {
  const about = onWords(choice.instruments);
  return (
    <Card sx={{ p: 1.5 }} aria-label={choice.name}>
      <Typography variant="h3" component="h2">
        {choice.name}
        {about && (
          <Box component="span" sx={{ fontWeight: 400, color: 'text.secondary' }}>
            {' '}
            {about}
          </Box>
        )}
      </Typography>
      <Box sx={{ color: 'text.secondary', pb: 0.75, lineHeight: 1.35 }}>
        Changes: {choice.changes}
        {choice.perChild && ' A child may go its own way.'}
        {overrides > 0 && ` ${count(overrides, 'child does', 'children do')}.`}
      </Box>
      <Box role="radiogroup" aria-label={choice.name}>
        {choice.options.map((option, index) => (
          <Option
            key={option.id}
            role="radio"
            aria-checked={option.id === chosen}
            disabled={disabled}
            onClick={() => onChoose(option.id)}
          >
            <span className="peg" />
            <span>
              <strong>{option.name}.</strong> {option.means}{' '}
              <span className="suits">Suits: {option.suits}</span>
              {index === 0 && <span className="suits"> Default: {choice.why}</span>}
            </span>
          </Option>
        ))}
      </Box>
    </Card>
  );
}
