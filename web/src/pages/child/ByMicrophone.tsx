import Box from '@mui/material/Box';
import Stack from '@mui/material/Stack';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import type { Instrument, Schemas } from '../../api/client';
import type { Over, RunSoFar } from '../../core/hearing';
import { OneOf } from '../../parts/OneOf';
import { RunEar } from '../../parts/RunEar';
import { SoundEar } from '../../parts/SoundEar';
import { Toggle } from '../../parts/Toggle';
import { useTunedStrings } from '../../parts/useTunedStrings';
import { handSpeaksFor, handWords, overWords, soundSpeaksFor } from '../../words/listening';
import { letterOf } from '../../words/markers';

type Symptom = Schemas['SymptomView'];

interface Props {
  classId: string;
  instrument: Instrument;
  symptoms: Symptom[];
  picked: string[];
  /** Takes a symptom, or lays it down again; with what was heard, in words. */
  onPick: (symptom: string, heard: string) => void;
}

/** What the microphone hears of a child's instrument, as symptoms to take: none is taken by itself. */
export function ByMicrophone({ classId, instrument, symptoms, picked, onPick }: Props) {
  const tuned = useTunedStrings(classId, instrument);
  const [what, setWhat] = useState<'sound' | 'hand'>('sound');
  const [note, setNote] = useState<string>();
  if (!tuned) return null;
  const string = tuned.find((one) => one.note === note) ?? tuned[1];
  const proposed = (speaks: Schemas['ByEar'][], heard: string) => (
    <Proposed symptoms={symptoms} speaks={speaks} picked={picked} onPick={(id) => onPick(id, heard)} />
  );
  return (
    <Box role="group" aria-label="By the microphone" sx={{ display: 'grid', gap: 1 }}>
      <Stack direction="row" spacing={1} sx={{ flexWrap: 'wrap', alignItems: 'center', rowGap: 0.75 }}>
        <OneOf
          name="What is listened for"
          value={what}
          options={[
            ['sound', 'Ring and tone'],
            ['hand', 'The hand, finger by finger'],
          ]}
          onChoose={setWhat}
        />
        {what === 'hand' && string && (
          <OneOf
            name="On which string"
            value={string.note}
            options={tuned.toReversed().map((one) => [one.note, letterOf(one.note)] as const)}
            onChoose={setNote}
          />
        )}
      </Stack>
      {what === 'sound' ? (
        <SoundEar
          instrument={instrument}
          openHz={tuned.map(({ hz }) => hz)}
          after={(over: Over) => proposed(soundSpeaksFor(over), overWords(over))}
        />
      ) : (
        string && (
          <RunEar
            key={string.note}
            name="The hand, finger by finger"
            begin={`Listen to the hand on ${letterOf(string.note)}`}
            instrument={instrument}
            notes={[
              { hz: string.hz, finger: 0, words: `open ${letterOf(string.note)}` },
              ...string.fingers.map(({ finger, hz }) => ({ hz, finger, words: `finger ${finger}` })),
            ]}
            overWords={handWords}
            after={(run: RunSoFar) => proposed(handSpeaksFor(run), handWords(run))}
          />
        )
      )}
    </Box>
  );
}

interface ProposedProps {
  symptoms: Symptom[];
  speaks: Schemas['ByEar'][];
  picked: string[];
  onPick: (symptom: string) => void;
}

function Proposed({ symptoms, speaks, picked, onPick }: ProposedProps) {
  const found = speaks.flatMap((one) => symptoms.filter(({ byEar }) => byEar.includes(one)));
  if (found.length === 0) return null;
  return (
    <Stack direction="row" spacing={0.75} sx={{ flexWrap: 'wrap', alignItems: 'center', rowGap: 0.75 }}>
      <Typography>Take it as</Typography>
      {found.map(({ id, name }) => (
        <Toggle key={id} on={picked.includes(id)} onClick={() => onPick(id)} sx={{ minHeight: 44 }}>
          {name}
        </Toggle>
      ))}
    </Stack>
  );
}
