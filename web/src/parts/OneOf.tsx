import FormControlLabel from '@mui/material/FormControlLabel';
import Radio from '@mui/material/Radio';
import RadioGroup from '@mui/material/RadioGroup';
import { styled } from '@mui/material/styles';
import { chosen, pill } from '../theme';

const Option = styled(FormControlLabel)(({ theme }) => ({
  ...pill(theme.vars),
  position: 'relative',
  margin: 0,
  cursor: 'pointer',
  '&:has(input:checked)': chosen(theme.vars),
  '&:has(input:focus-visible)': { outline: `3px solid ${theme.vars.palette.primary.main}`, outlineOffset: 2 },
  // The radio lies unseen over the whole of it.
  '& .MuiFormControlLabel-label': { font: 'inherit' },
  '& .MuiRadio-root': { position: 'absolute', inset: 0, opacity: 0 },
}));

interface Props<T extends string> {
  /** What is chosen, for those who do not see it. */
  name: string;
  value: T | undefined;
  options: readonly (readonly [value: T, label: string])[];
  disabled?: boolean;
  onChoose: (value: T) => void;
}

/** One of a few, all of them in sight: the arrow keys go from one to the next. */
export function OneOf<T extends string>({ name, value, options, disabled = false, onChoose }: Props<T>) {
  return (
    <RadioGroup
      row
      aria-label={name}
      value={value ?? ''}
      onChange={(event) => onChoose(event.target.value as T)}
    >
      {options.map(([option, label]) => (
        <Option key={option} value={option} label={label} disabled={disabled} control={<Radio />} />
      ))}
    </RadioGroup>
  );
}
