import Box from '@mui/material/Box';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import type { MarkerSettings, Schemas, TapeBench } from '../../api/client';

export type Colour = Schemas['Colour'];

/** The colours that the markers really have: of each finger, or of all, as the class chose. */
export function MarkerColours({
  bench,
  value,
  onChange,
}: {
  bench: TapeBench;
  value: MarkerSettings['colours'];
  onChange: (colours: MarkerSettings['colours']) => void;
}) {
  const { markers, colours, director } = bench;
  const fields = markers.colours
    ? value.fingers.map((colour, index) => ({
        label: `Colour of finger ${index + 1}`,
        colour,
        take: (taken: Colour) =>
          onChange({ ...value, fingers: value.fingers.map((one, at) => (at === index ? taken : one)) }),
      }))
    : [
        {
          label: 'Colour of the markers',
          colour: value.plain,
          take: (taken: Colour) => onChange({ ...value, plain: taken }),
        },
      ];
  return (
    <Box component="fieldset" sx={{ border: 0, m: 0, p: 0 }}>
      <Typography component="legend" sx={{ mb: 1 }}>
        As the tape really is: drawings, templates and words follow.{' '}
        {markers.colours ? '' : 'A colour for each finger is chosen under Approach.'}
      </Typography>
      <Box sx={{ display: 'grid', gap: 1.5, gridTemplateColumns: 'repeat(auto-fill, minmax(145px, 1fr))' }}>
        {fields.map(({ label, colour, take }) => (
          <TextField
            key={label}
            select
            label={label}
            value={colour}
            disabled={!director}
            onChange={({ target }) => {
              const taken = colours.find(({ key }) => key === target.value);
              if (taken) take(taken.key);
            }}
            slotProps={{
              select: { native: true },
              input: {
                startAdornment: (
                  <Box
                    component="span"
                    aria-hidden
                    sx={{
                      width: 22,
                      height: 22,
                      flexShrink: 0,
                      mr: 1,
                      borderRadius: '50%',
                      border: 1,
                      borderColor: 'text.primary',
                      bgcolor: colours.find(({ key }) => key === colour)?.hex,
                    }}
                  />
                ),
              },
            }}
          >
            {colours.map(({ key, name }) => (
              <option key={key} value={key}>
                {name}
              </option>
            ))}
          </TextField>
        ))}
      </Box>
    </Box>
  );
}
