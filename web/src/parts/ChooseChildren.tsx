import Box from '@mui/material/Box';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';

interface Props {
  /** What is chosen, for those who do not see it. */
  name: string;
  children: readonly { id: string; name: string; more?: string }[];
  chosen: (id: string) => boolean;
  disabled?: boolean;
  onToggle: (id: string) => void;
}

/** Some of a class, each with a box to tick. */
export function ChooseChildren({ name, children, chosen, disabled = false, onToggle }: Props) {
  return (
    <Box
      role="group"
      aria-label={name}
      sx={{ display: 'grid', gridTemplateColumns: 'repeat(auto-fill, minmax(210px, 1fr))' }}
    >
      {children.map(({ id, name: child, more }) => (
        <FormControlLabel
          key={id}
          label={more === undefined ? child : `${child}, ${more}`}
          control={<Checkbox checked={chosen(id)} disabled={disabled} onChange={() => onToggle(id)} />}
        />
      ))}
    </Box>
  );
}
