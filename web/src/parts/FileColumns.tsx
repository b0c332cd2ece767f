import Box from '@mui/material/Box';
import MenuItem from '@mui/material/MenuItem';
import Stack from '@mui/material/Stack';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';

interface Column<Means extends string> {
  heading: string;
  means: Means;
  example: string;
}

interface Props<Means extends string> {
  columns: Column<Means>[];
  /** What a column can hold, by name; what is left out among them. */
  names: readonly (readonly [Means, string])[];
  /** What it means to leave a column out. */
  nothing: Means;
  onMapping: (mapping: Record<string, Means>) => void;
}

/** Every column of a file with what it is taken for. */
export function FileColumns<Means extends string>({ columns, names, nothing, onMapping }: Props<Means>) {
  if (columns.length === 0) return null;
  return (
    <Box>
      <Typography variant="h3" component="h3" sx={{ mb: 1 }}>
        What the columns hold
      </Typography>
      <Stack direction="row" spacing={1.5} useFlexGap sx={{ flexWrap: 'wrap' }}>
        {columns.map((column, index) => (
          <TextField
            key={`${index} ${column.heading}`}
            select
            size="small"
            label={column.heading || `column ${index + 1}`}
            value={column.means}
            helperText={column.example ? `such as ${column.example}` : 'empty'}
            sx={{ width: 200 }}
            onChange={(event) => {
              const means = event.target.value as Means;
              // Each meaning is one column's: whoever had it before is left out.
              const others = columns.map(
                (other) => [other.heading, other.means === means ? nothing : other.means] as const,
              );
              onMapping({ ...Object.fromEntries(others), [column.heading]: means });
            }}
          >
            {names.map(([means, name]) => (
              <MenuItem key={means} value={means}>
                {name}
              </MenuItem>
            ))}
          </TextField>
        ))}
      </Stack>
    </Box>
  );
}
