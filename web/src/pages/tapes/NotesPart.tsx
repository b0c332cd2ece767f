import Stack from '@mui/material/Stack';
import { keepPreviousData } from '@tanstack/react-query';
import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { useParams, useSearchParams } from 'react-router';
import { asError, type NoteMap, type TuneWishes, type Voice } from '../../api/client';
import { $api } from '../../api/queries';
import { OneOf } from '../../parts/OneOf';
import { Toggle } from '../../parts/Toggle';
import { FileMenu, type Files } from '../../parts/FileMenu';
import { Card, PageContent, Read } from '../../parts/page';
import { INSTRUMENTS } from '../../words/looks';
import { noteWords } from '../../words/markers';
import { capital, count } from '../../words/text';
import { fingerShort, NoteBoard } from './NoteBoard';
import { SoundChips, Tone } from './Tones';
import { TuneBuilder } from './TuneBuilder';
import { TuneFile } from './TuneFile';

const WISHES = ['tune', 'notes', 'name', 'key', 'meter'] as const;

/** Stands among the tunes for what is built here. */
const OWN = 'own';

/** What is asked for stands in the address: it can be kept, shared and gone back to. */
export function useTune(): [wishes: TuneWishes, set: (wishes: TuneWishes) => void] {
  const [search, setSearch] = useSearchParams();
  const wishes: TuneWishes = {};
  for (const key of WISHES) {
    const value = search.get(key);
    if (value !== null) wishes[key] = value;
  }
  const tempo = search.get('tempo');
  if (tempo !== null) wishes.tempo = Number(tempo);
  return [wishes, (next) => setSearch(asQuery(next))];
}

const asQuery = (wishes: TuneWishes) =>
  Object.entries(wishes).map(([key, value]): [string, string] => [key, String(value)]);

/** A note or a tune on all four instruments at once, and who is ready for it. */
export function NotesPart() {
  const { classId = '' } = useParams();
  const [wishes, setWishes] = useTune();
  const [building, setBuilding] = useState(wishes.notes !== undefined);
  const map = $api.useQuery(
    'get',
    '/api/classes/{class}/notes',
    { params: { path: { class: classId }, query: wishes } },
    { placeholderData: keepPreviousData },
  );
  return (
    <Read query={map} what="Notes are being laid out">
      {(read) => (
        <PageContent
          name="Note map"
          bar={
            <>
              <OneOf
                name="Tunes"
                value={building ? OWN : (wishes.tune ?? read.tunes[0]?.id)}
                options={[
                  ...read.tunes.map(({ id, name }) => [id, name] as const),
                  [OWN, 'A note, or a tune of our own'],
                ]}
                onChoose={(tune) => {
                  setBuilding(tune === OWN);
                  if (tune !== OWN) setWishes({ tune });
                  else if (wishes.notes === undefined) setWishes({ notes: 'F#4' });
                }}
              />
            </>
          }
        >
          {building && (
            <TuneBuilder
              wishes={wishes}
              onChange={setWishes}
              file={<TuneFile classId={classId} onRead={setWishes} />}
            />
          )}
          {map.error && (
            <Alert severity="error" sx={{ mb: 2 }}>
              {asError(map.error).message} What you built is kept.
            </Alert>
          )}
          <Map key={JSON.stringify(wishes)} classId={classId} map={read} wishes={wishes} />
        </PageContent>
      )}
    </Read>
  );
}

function Map({ classId, map, wishes }: { classId: string; map: NoteMap; wishes: TuneWishes }) {
  const [lit, setLit] = useState(0);
  const at = Math.min(lit, map.notes.length - 1);
  const query = new URLSearchParams(asQuery(wishes));
  const file = (name: string, more = '') => `/api/classes/${classId}/${name}?${query.toString()}${more}`;
  return (
    <Box sx={{ display: 'grid', gap: 2 }}>
      <Stack direction="row" spacing={1} sx={{ alignItems: 'center', flexWrap: 'wrap' }}>
        <Typography variant="h2" sx={{ flex: 1 }}>
          {map.name}
        </Typography>
        <SoundChips />
        <FileMenu label="Save the tune" groups={tuneFiles(file)} />
      </Stack>
      <Stack direction="row" spacing={0.5} role="group" aria-label="Notes" sx={{ flexWrap: 'wrap' }}>
        {map.notes.map(({ note }, index) => (
          <Toggle
            key={index}
            on={index === at}
            aria-label={note ? `Note ${index + 1}, ${noteWords(note)}` : `Rest ${index + 1}`}
            onClick={() => setLit(index)}
            sx={{ px: 1.25, minWidth: 44 }}
          >
            {note ? signOf(note) : '–'}
          </Toggle>
        ))}
      </Stack>
      <Box
        sx={{
          display: 'grid',
          gap: 2,
          gridTemplateColumns: { xs: 'repeat(2, minmax(0, 1fr))', md: 'repeat(4, minmax(0, 1fr))' },
        }}
      >
        {map.voices.map((voice) => (
          <Card key={voice.instrument} aria-label={capital(voice.instrument)} sx={{ p: 1.5 }}>
            <Typography variant="h3">{capital(voice.instrument)}</Typography>
            <NoteLine voice={voice} at={at} />
            <NoteBoard
              voice={voice}
              colours={map.colours ? map.fingerColours : undefined}
              now={nowOf(voice, at)}
            />
            <Typography sx={{ color: 'text.secondary' }}>{partWords(voice)}</Typography>
          </Card>
        ))}
      </Box>
      <Ready map={map} />
    </Box>
  );
}

/** What a tune can be saved as: for the stand, for notation programs and players, and one part alone. */
function tuneFiles(file: (name: string, more?: string) => string): Files[] {
  return [
    {
      title: 'For stands',
      files: [
        ['Chart, A4', file('notes.pdf')],
        ['Chart, Letter', file('notes.pdf', '&paper=letter')],
      ],
    },
    {
      title: 'All four parts',
      files: [
        ['Score (MusicXML)', file('notes.musicxml')],
        ['Score, packed (.mxl)', file('notes.mxl')],
        ['For players (MIDI)', file('notes.mid')],
      ],
    },
    {
      title: 'One part alone',
      files: INSTRUMENTS.flatMap((instrument) => [
        [`${capital(instrument)}, score (MusicXML)`, file('notes.musicxml', `&part=${instrument}`)] as const,
        [`${capital(instrument)}, sound (WAV)`, file('notes.wav', `&part=${instrument}`)] as const,
      ]),
    },
  ];
}

/** A single note is lit everywhere it can be played. */
function nowOf(voice: Voice, at: number) {
  if (voice.everywhere.length > 0) return voice.everywhere;
  const position = voice.notes[at]?.position;
  return position ? [position] : [];
}

/** `F♯`. */
function signOf(note: string): string {
  return note
    .replace(/\d+$/, '')
    .replace('#', '♯')
    .replace(/^([A-G])b$/, '$1♭');
}

function NoteLine({ voice, at }: { voice: Voice; at: number }) {
  const note = voice.notes[at];
  const position = note?.position;
  return (
    <Stack direction="row" spacing={1} sx={{ alignItems: 'center', minHeight: 48 }}>
      <Typography sx={{ flex: 1, fontSize: '1.15rem', fontWeight: 700 }}>
        {note?.said === undefined
          ? 'rest'
          : position === undefined
            ? 'not in first position'
            : position.finger
              ? `${fingerShort(position.finger)} on ${position.letter}${position.marked ? '' : ', no marker'}`
              : `open ${position.letter}`}
        {note && note.folded !== 0 && (note.folded < 0 ? ' (octave down)' : ' (octave up)')}
      </Typography>
      {position && <Tone hz={position.hz}>{signOf(position.note)}</Tone>}
    </Stack>
  );
}

function partWords(voice: Voice): string {
  const parts = [
    voice.missing > 0 && `${count(voice.missing, 'note')} not in first position`,
    voice.moved !== undefined && voice.moved,
    voice.unmarked.length > 0 && `no marker for ${voice.unmarked.join(', ')}`,
  ].filter((part) => part !== false);
  return parts.length === 0 ? 'All of it in first position, all marked' : capital(parts.join('; '));
}

/** Who can play it now; who cannot, what is waited for, and what they play meanwhile. */
function Ready({ map }: { map: NoteMap }) {
  const ready = map.children.filter((child) => child.ready);
  const rest = map.children.filter((child) => !child.ready);
  // Those who wait for the same things stand together.
  const groups = new globalThis.Map<string, typeof rest>();
  for (const child of rest) {
    const key = child.waits.join(' and ');
    groups.set(key, [...(groups.get(key) ?? []), child]);
  }
  return (
    <Card aria-label="Who is ready" sx={{ display: 'grid', gap: 1 }}>
      <Typography variant="h3">
        {count(ready.length, 'child', 'children')} of {map.children.length} ready
      </Typography>
      {rest.length > 0 && (
        <>
          {[...groups.entries()].map(([waits, children]) => (
            <Typography key={waits}>
              <strong>Waits for {waits}:</strong> {children.map(({ name }) => name).join(', ')}
            </Typography>
          ))}
          <Typography>Meanwhile they play along on open strings:</Typography>
          {map.voices.map((voice) => (
            <Typography key={voice.instrument} sx={{ color: 'text.secondary' }}>
              {capital(voice.instrument)}: {voice.instead.filter(Boolean).join(' ')}
            </Typography>
          ))}
        </>
      )}
      {map.children.length === 0 && <Typography>Nobody is in this class yet.</Typography>}
    </Card>
  );
}
