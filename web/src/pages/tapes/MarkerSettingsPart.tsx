import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState, type SyntheticEvent } from 'react';
import { useParams } from 'react-router';
import { api, basedOn, unwrap, type MarkerSettings, type Schemas, type TapeBench } from '../../api/client';
import { $api, ofClass } from '../../api/queries';
import { Card, PageContent, Read } from '../../parts/page';
import { SavedMeanwhile, type Said } from '../../parts/SavedMeanwhile';
import { useDraft } from '../../parts/useDraft';
import { useAction } from '../../parts/useAction';
import { MarkerColours, type Colour } from './MarkerColours';

interface Typed {
  temperament: MarkerSettings['temperament'];
  align: MarkerSettings['align'];
  stripMm: string;
  offsetMm: string;
  true: string;
  close: string;
  a4Hz: string;
  colours: MarkerSettings['colours'];
}

function typedOf(settings: MarkerSettings): Typed {
  const { temperament, align, stripMm, offsetMm, toleranceCents, a4Hz, colours } = settings;
  return {
    temperament,
    align,
    stripMm: String(stripMm),
    offsetMm: String(offsetMm),
    true: String(toleranceCents.true),
    close: String(toleranceCents.close),
    a4Hz: String(a4Hz),
    colours,
  };
}

const number = (text: string) => Number(text.replace(',', '.').replace('−', '-'));

function layingOf(typed: Typed): MarkerSettings {
  const { temperament, align, stripMm, offsetMm, close, a4Hz, colours } = typed;
  return {
    temperament,
    align,
    stripMm: number(stripMm),
    offsetMm: number(offsetMm),
    toleranceCents: { true: number(typed.true), close: number(close) },
    a4Hz: number(a4Hz),
    colours,
  };
}

const CHOICES = [
  {
    key: 'temperament',
    label: 'How the octave is divided',
    options: [
      ['equal', 'Equal semitones'],
      ['pythagorean', 'Pure fifths, as string players tune'],
    ],
  },
  {
    key: 'align',
    label: 'What of a strip lies on the line',
    options: [
      ['nutEdge', 'Its edge nearer the nut'],
      ['middle', 'Its middle'],
      ['bridgeEdge', 'Its edge nearer the bridge'],
    ],
  },
] as const;

const FIELDS: [key: 'stripMm' | 'offsetMm' | 'true' | 'close' | 'a4Hz', label: string, help: string][] = [
  ['stripMm', 'Width of a strip (mm)', '2 to 6'],
  [
    'offsetMm',
    'Offset towards the nut (mm)',
    '-5 to 5. A fingertip stops the string nearer the bridge than its middle, so a marker under its middle sounds sharp',
  ],
  ['true', 'True up to (cents)', 'Heard as in tune'],
  ['close', 'Close up to (cents)', 'Beyond it a marker is moved'],
  ['a4Hz', 'A4 of the class (Hz)', '430 to 450. Tones follow it; distances do not'],
];

/** What settings say, for comparing two. */
function says(settings: MarkerSettings, palette: Schemas['ColourView'][]): Said[] {
  const typed = typedOf(settings);
  const choices = CHOICES.map(({ key, label, options }) => {
    const chosen = options.find(([value]) => value === typed[key]);
    return [label, chosen?.[1] ?? typed[key]] as const;
  });
  const named = (key: Colour) => palette.find((colour) => colour.key === key)?.name ?? key;
  const { plain, fingers } = settings.colours;
  const colours: Said[] = [
    ['Colour of all markers', named(plain)],
    ['Colours of fingers 1 to 4', fingers.map(named).join(', ')],
  ];
  return [...choices, ...FIELDS.map(([key, label]) => [label, typed[key]] as const), ...colours];
}

/** How the class lays its markers, and what its ears say of that. */
export function MarkerSettingsPart() {
  const { classId = '' } = useParams();
  const bench = $api.useQuery('get', '/api/classes/{class}/tapes', ofClass(classId));
  return (
    <Read query={bench} what="The settings are being read">
      {(read) => <Settings classId={classId} bench={read} />}
    </Read>
  );
}

function Settings({ classId, bench }: { classId: string; bench: TapeBench }) {
  const draft = useDraft(typedOf(bench.settings), bench.settingsVersion);
  const { value: typed, change: setTyped } = draft;
  const [bad, setBad] = useState<string>();
  const action = useAction(classId);
  const { busy, error, problemOf } = action;
  const { offset, director } = bench;
  const keep = async (settings: MarkerSettings, version: string | undefined, from = typed) => {
    const saved = await action.run(() =>
      unwrap(
        api.PUT('/api/classes/{class}/tapes/settings', {
          params: { path: { class: classId } },
          headers: basedOn(version),
          body: settings,
        }),
      ),
    );
    if (saved) draft.saved(from);
  };
  /** What was heard goes into the form too, so that it is there if somebody else saved meanwhile. */
  const takeOffset = (offsetMm: number) => {
    const heard = { ...typed, offsetMm: String(offsetMm) };
    setTyped(heard);
    void keep({ ...bench.settings, offsetMm }, draft.basedOn, heard);
  };
  const send = (event: SyntheticEvent) => {
    event.preventDefault();
    const wrong = FIELDS.find(([key]) => typed[key].trim() === '' || !Number.isFinite(number(typed[key])));
    setBad(wrong?.[0]);
    if (!wrong) void keep(layingOf(typed), draft.basedOn);
  };
  const problems: Record<string, string | undefined> = {
    stripMm: problemOf('stripMm'),
    offsetMm: problemOf('offsetMm'),
    true: problemOf('toleranceCents'),
    close: problemOf('toleranceCents'),
    a4Hz: problemOf('a4Hz'),
  };
  return (
    <PageContent name="How markers lie">
      <SavedMeanwhile
        action={action}
        mine={layingOf(typed)}
        says={(settings) => says(settings, bench.colours)}
        onMine={(version) => void keep(layingOf(typed), version)}
        onTheirs={draft.drop}
      />
      <Box sx={{ display: 'grid', gap: 2, maxWidth: 640 }}>
        {offset && (
          <Card aria-label="What was heard">
            <Typography variant="h3" component="h2">
              What was heard
            </Typography>
            <Typography sx={{ my: 1 }}>
              {offset.instruments} instruments were heard with a tuner. In the middle their markers want to
              move {Math.abs(offset.medianMoveMm).toFixed(1)} mm towards the{' '}
              {offset.medianMoveMm < 0 ? 'nut' : 'bridge'} (from {offset.leastMoveMm.toFixed(1)} to{' '}
              {offset.mostMoveMm.toFixed(1)} mm): an offset of {offset.offsetMm.toFixed(1)} mm instead of{' '}
              {offset.inUseMm.toFixed(1)} mm would suit these hands.
            </Typography>
            {director && (
              <Button variant="contained" disabled={busy} onClick={() => takeOffset(offset.offsetMm)}>
                Use {offset.offsetMm.toFixed(1)} mm
              </Button>
            )}
          </Card>
        )}
        <Box component="form" noValidate onSubmit={send} sx={{ display: 'grid', gap: 2, mt: 1 }}>
          {CHOICES.map(({ key, label, options }) => (
            <TextField
              key={key}
              select
              label={label}
              value={typed[key]}
              disabled={!director}
              onChange={({ target }) => setTyped({ ...typed, [key]: target.value })}
              slotProps={{ select: { native: true } }}
            >
              {options.map(([value, words]) => (
                <option key={value} value={value}>
                  {words}
                </option>
              ))}
            </TextField>
          ))}
          {FIELDS.map(([key, label, help]) => (
            <TextField
              key={key}
              label={label}
              value={typed[key]}
              disabled={!director}
              error={bad === key || problems[key] !== undefined}
              helperText={bad === key ? 'Type a number.' : (problems[key] ?? help)}
              onChange={({ target }) => setTyped({ ...typed, [key]: target.value })}
              slotProps={{ htmlInput: { inputMode: 'decimal' } }}
            />
          ))}
          <MarkerColours
            bench={bench}
            value={typed.colours}
            onChange={(colours) => setTyped({ ...typed, colours })}
          />
          {error && <Alert severity="error">{error} What was there before is kept.</Alert>}
          {director ? (
            <Button type="submit" variant="contained" loading={busy} sx={{ justifySelf: 'start' }}>
              Lay markers like this
            </Button>
          ) : (
            <Typography>Only a director changes how markers are laid.</Typography>
          )}
        </Box>
        <Typography sx={{ color: 'text.secondary' }}>
          What was laid and heard before stays in the logs as it was entered; targets and printed templates
          follow the new numbers. Which markers, and what they are made of, is chosen under Approach.
        </Typography>
      </Box>
    </PageContent>
  );
}
