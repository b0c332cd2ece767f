import Box from '@mui/material/Box';
import FormLabel from '@mui/material/FormLabel';
import MenuItem from '@mui/material/MenuItem';
import Slider from '@mui/material/Slider';
import Stack from '@mui/material/Stack';
import TextField from '@mui/material/TextField';
import type { Instrument } from '../../api/client';
import { ask, useFiguresAreThere, type Answer } from '../../core/door';
import { Figure, type Spec } from '../../parts/Figure';
import { parameterWords, UNITS, VIEWS, viewsInOrder } from '../../words/figureNumbers';
import { capital } from '../../words/text';

type Numbers = Answer<'viewNumbers'>;
type Parameter = Numbers['parameters'][number];
type Setting = NonNullable<Spec['set']>[string];

interface Props {
  figure: Spec | undefined;
  instrument: Instrument;
  problem: string | undefined;
  onChange: (figure: Spec | undefined) => void;
}

/** How a checkpoint of the class's own is drawn: a view, and its numbers with sliders, seen at once. */
export function FigureFields({ figure, instrument, problem, onChange }: Props) {
  const there = useFiguresAreThere();
  const numbers = there && figure ? ask('viewNumbers', { instrument, view: figure.view }) : undefined;
  const set = (name: string, to: Setting) => {
    if (!figure || !numbers) return;
    const others = Object.fromEntries(Object.entries(figure.set ?? {}).filter(([key]) => key !== name));
    onChange({ ...figure, set: to === numbers.usual[name] ? others : { ...others, [name]: to } });
  };
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <TextField
        select
        label="Drawn as"
        value={figure?.view ?? ''}
        size="small"
        error={problem !== undefined}
        helperText={problem ?? 'A drawing beside the words, on every screen where it is looked at'}
        slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
        onChange={({ target }) =>
          onChange(target.value === '' ? undefined : { view: target.value as Spec['view'], set: {} })
        }
      >
        <MenuItem value="">Not drawn</MenuItem>
        {viewsInOrder.map((view) => (
          <MenuItem key={view} value={view}>
            {VIEWS[view]}
          </MenuItem>
        ))}
      </TextField>
      {figure && numbers && (
        <Stack direction={{ xs: 'column', sm: 'row' }} spacing={2}>
          <Box
            sx={{
              flex: 'none',
              width: { xs: '100%', sm: 220 },
              height: 220,
              position: 'sticky',
              top: 0,
              zIndex: 1,
              bgcolor: 'background.default',
              borderRadius: 1,
              p: 1,
            }}
          >
            <Figure
              labelled
              spec={figure}
              instrument={instrument}
              what={`${capital(instrument)}, as set here`}
            />
          </Box>
          <Box
            sx={{ flex: 1, minWidth: 0, maxHeight: 320, overflow: 'auto', pr: 1.5 }}
            tabIndex={0}
            role="group"
            aria-label="Numbers of the drawing"
          >
            {numbers.parameters.map((parameter) => (
              <OneNumber
                key={parameter.name}
                parameter={parameter}
                value={figure.set?.[parameter.name] ?? numbers.usual[parameter.name] ?? 0}
                onChange={(to) => set(parameter.name, to)}
              />
            ))}
          </Box>
        </Stack>
      )}
    </Box>
  );
}

/** One number with its slider, or one word among several. */
function OneNumber({
  parameter,
  value,
  onChange,
}: {
  parameter: Parameter;
  value: Setting;
  onChange: (to: Setting) => void;
}) {
  const { name, range } = parameter;
  const label = parameterWords(name);
  if (range.kind === 'word')
    return (
      <TextField
        select
        fullWidth
        label={label}
        value={value}
        size="small"
        sx={{ my: 1 }}
        onChange={({ target }) => onChange(target.value)}
      >
        {range.words.map((word) => (
          <MenuItem key={word} value={word}>
            {capital(word)}
          </MenuItem>
        ))}
      </TextField>
    );
  const { least, most, unit } = range;
  const step = most - least > 20 ? 1 : 0.1;
  return (
    <Box sx={{ px: 1 }}>
      <FormLabel id={`figure-${name}`}>
        {label}: {Number(value)} {UNITS[unit] ?? unit}
      </FormLabel>
      <Slider
        aria-labelledby={`figure-${name}`}
        min={least}
        max={most}
        step={step}
        value={Number(value)}
        onChange={(_, to) => typeof to === 'number' && onChange(to)}
      />
    </Box>
  );
}
