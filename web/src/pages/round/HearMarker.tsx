import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { useParams } from 'react-router';
import type { Instrument } from '../../api/client';
import { OneOf } from '../../parts/OneOf';
import { RunEar } from '../../parts/RunEar';
import { TakeCents } from '../../parts/TakeCents';
import { useTunedStrings } from '../../parts/useTunedStrings';
import { nearWords } from '../../words/listening';
import { letterOf, markerName } from '../../words/markers';

interface Props {
  instrument: Instrument;
  /** The markers that are on. */
  spots: readonly string[];
  /** A marker was heard so many cents off, and somebody took it. */
  onHeard: (finger: string, cents: number) => void;
}

/** One marker beside the open string below it, by the microphone: the number goes to the instrument's log with a tap. */
export function HearMarker({ instrument, spots, onHeard }: Props) {
  const { classId = '' } = useParams();
  const tuned = useTunedStrings(classId, instrument);
  const string = tuned?.[1];
  const [open, setOpen] = useState(false);
  const [chosen, setChosen] = useState<string>();
  const heard = (string?.fingers ?? []).filter(({ finger }) => spots.includes(String(finger)));
  const marker = heard.find(({ finger }) => String(finger) === chosen) ?? heard[0];
  if (!string || !marker) return null;
  const name = markerName(String(marker.finger));
  return (
    <Box sx={{ display: 'grid', gap: 0.75, justifyItems: 'start' }}>
      <Button variant="pill" aria-expanded={open} onClick={() => setOpen(!open)}>
        Hear one by the microphone
      </Button>
      {open && (
        <Box sx={{ display: 'grid', gap: 0.75, width: '100%' }}>
          <OneOf
            name="Which marker is heard"
            value={String(marker.finger)}
            options={heard.map(({ finger }) => [String(finger), markerName(String(finger))] as const)}
            onChoose={setChosen}
          />
          <RunEar
            key={marker.finger}
            name={`By the microphone, marker ${name}`}
            begin={`Hear marker ${name}`}
            instrument={instrument}
            notes={[
              { hz: string.hz, finger: 0, words: `open ${letterOf(string.note)}` },
              { ...marker, words: `marker ${name} on ${letterOf(string.note)}` },
            ]}
            overWords={({ cents }) => `Marker ${name}: ${nearWords(cents[1] ?? 0)}.`}
            after={({ cents }, again) => (
              <TakeCents
                cents={cents[1] ?? 0}
                onTake={(whole) => onHeard(String(marker.finger), whole)}
                onAgain={again}
              />
            )}
          />
        </Box>
      )}
    </Box>
  );
}
