import Box from '@mui/material/Box';
import FormControlLabel from '@mui/material/FormControlLabel';
import Radio from '@mui/material/Radio';
import RadioGroup from '@mui/material/RadioGroup';
import Stack from '@mui/material/Stack';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { styled } from '@mui/material/styles';
import { Fragment } from 'react';
import type { Choice, Schemas } from '../../api/client';
import { Figure } from '../../parts/Figure';
import { Card } from '../../parts/page';
import { isoDay } from '../../words/dates';
import { count } from '../../words/text';
import { onWords } from './Changes';

const OptionRow = styled(FormControlLabel)(({ theme }) => ({
  margin: 0,
  minHeight: 52,
  display: 'grid',
  gridTemplateColumns: '30px minmax(0, 1fr)',
  lineHeight: 1.3,
  padding: theme.spacing(0.75, 0.5),
  borderTop: `1px solid ${theme.vars.palette.divider}`,
  '& .suits': { color: theme.vars.palette.text.secondary },
  '&:has(input:checked)': { background: theme.vars.palette.background.default },
  '& .MuiFormControlLabel-label.Mui-disabled': { color: 'inherit' },
  '& .MuiRadio-root': { padding: 0, justifySelf: 'start' },
}));

/** A peg: turned in when the option is chosen. */
const Peg = styled('span')(({ theme }) => ({
  width: 18,
  height: 18,
  borderRadius: '50%',
  border: `2px solid ${theme.vars.palette.text.secondary}`,
  '&.in': { borderColor: theme.vars.palette.own.glowEdge, background: theme.vars.palette.own.glow },
}));

type Option = Choice['options'][number];
type Drawings = Schemas['ClassDrawings'] | undefined;

interface Props {
  choice: Choice;
  /** How the options look. */
  drawings: Drawings;
  chosen: string;
  /** Children who go their own way here. */
  overrides: number;
  disabled: boolean;
  /** The day typed here on which the chosen option turns into another. */
  turnsOn: string | undefined;
  onChoose: (option: string) => void;
  onTurn: (day: string) => void;
}

/** The day from which an option is the one it turns into. */
function Turning({
  choice,
  chosen,
  turnsOn,
  disabled,
  onTurn,
}: Omit<Props, 'overrides' | 'onChoose' | 'drawings'>) {
  const turn = choice.options.find(({ id }) => id === chosen)?.turns;
  if (!turn) return null;
  const into = choice.options.find(({ id }) => id === turn.into)?.name ?? turn.into;
  const kept = chosen === choice.chosen ? choice.turnsOn : undefined;
  const [day, today] = [turnsOn ?? kept ?? turn.after, isoDay(new Date())];
  return (
    <TextField
      type="date"
      label={day <= today ? 'Since' : 'From'}
      value={day}
      disabled={disabled}
      size="small"
      onChange={({ target }) => target.value && onTurn(target.value)}
      helperText={`${into}: its look-fors are read, and the move is a check of its own`}
      slotProps={{ inputLabel: { shrink: true } }}
      sx={{ ml: '34px', mt: 1.25, mb: 0.5, '& .MuiInputBase-root': { maxWidth: 220 } }}
    />
  );
}

/** An option that changes a shape, drawn on the first instrument that it is about. */
function OptionDrawing({ choice, option, drawings }: { choice: Choice; option: Option; drawings: Drawings }) {
  const drawn = drawings?.options[choice.key]?.[option.id];
  const instrument = choice.instruments.find((on) => drawn?.[on]);
  const spec = instrument && drawn?.[instrument];
  if (!spec) return null;
  return (
    <Box sx={{ flex: 'none', width: 92, height: 92 }}>
      <Figure spec={spec} instrument={instrument} what={option.name} />
    </Box>
  );
}

/** One choice: each option with what it means, who likes it, and why the first is the default. */
export function ChoiceCard(props: Props) {
  const { choice, drawings, chosen, overrides, disabled, onChoose } = props;
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
      <RadioGroup
        aria-label={choice.name}
        value={chosen}
        onChange={(event) => onChoose(event.target.value)}
        sx={{ gap: 0 }}
      >
        {choice.options.map((option, index) => (
          <Fragment key={option.id}>
            <OptionRow
              value={option.id}
              disabled={disabled}
              control={<Radio icon={<Peg />} checkedIcon={<Peg className="in" />} />}
              label={
                <Stack direction="row" spacing={1.25}>
                  <OptionDrawing choice={choice} option={option} drawings={drawings} />
                  <Box sx={{ flex: 1, minWidth: 0 }}>
                    <strong>{option.name}.</strong> {option.means}{' '}
                    <span className="suits">Suits: {option.suits}</span>
                    {index === 0 && <span className="suits"> Default: {choice.why}</span>}
                  </Box>
                </Stack>
              }
            />
            {option.id === chosen && <Turning {...props} />}
          </Fragment>
        ))}
      </RadioGroup>
    </Card>
  );
}
