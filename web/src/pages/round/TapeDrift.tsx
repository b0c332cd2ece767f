import Stack from '@mui/material/Stack';
import Box from '@mui/material/Box';
import { useState } from 'react';
import { useParams } from 'react-router';
import { v7 as uuid } from 'uuid';
import type { Check, Instrument, NewTapeEntry } from '../../api/client';
import { tapeBox } from '../../offline/useOutbox';
import { Toggle } from '../../parts/Toggle';
import { centsWords, markerName } from '../../words/markers';
import { HearMarker } from './HearMarker';
import type { Visit } from './useVisit';

const FOUND = ['low', 'high', 'loose', 'gone'] as const;
type Found = (typeof FOUND)[number];

function workOf(spot: string, found: Found): Pick<NewTapeEntry, 'kind'> & Partial<NewTapeEntry> {
  if (found === 'loose') return { kind: 'loose', spots: [spot] };
  if (found === 'gone') return { kind: 'missing', spots: [spot] };
  return { kind: 'heard', finger: spot, proof: 'tone', heard: found };
}

interface Props {
  check: Check;
  visit: Visit;
  instrument: Instrument;
}

/** Ten seconds: which marker, and what is the matter with it, in one tap; a second tap takes it back. */
export function TapeDrift({ check, visit, instrument }: Props) {
  const { classId = '' } = useParams();
  // What was tapped in this visit, with the entries that say so.
  const [logged, setLogged] = useState<Record<string, string>>({});
  const { asset } = check;
  const on = (check.spots ?? []).filter(({ presence }) => presence !== 'never' && presence !== 'taken');
  const [item] = check.items;
  if (!asset || !item || on.length === 0) return null;
  const log = (work: Pick<NewTapeEntry, 'kind'> & Partial<NewTapeEntry>, label: string): string => {
    const id = uuid();
    tapeBox.add(classId, { ...work, id, asset, at: new Date().toISOString() }, label);
    return id;
  };
  const tap = (spot: string, name: string, found: Found) => {
    const key = `${spot} ${found}`;
    const before = logged[key];
    if (before) {
      log({ kind: 'undone', event: before }, `undo of marker ${name} ${found}`);
      setLogged(Object.fromEntries(Object.entries(logged).filter(([known]) => known !== key)));
      return;
    }
    const id = log(workOf(spot, found), `marker ${name} ${found}`);
    setLogged({ ...logged, [key]: id });
    if (visit.of(item.id)?.level !== 0) visit.level(check, item, 0);
  };
  return (
    <Box role="group" aria-label="Which marker" sx={{ display: 'grid', gap: 0.5 }}>
      {on
        .map(({ spot }) => ({ spot, name: markerName(spot) }))
        .map(({ spot, name }) => (
          <Stack direction="row" spacing={0.5} key={spot} sx={{ alignItems: 'center', flexWrap: 'wrap' }}>
            <Box sx={{ minWidth: 32, fontWeight: 700 }}>{name}</Box>
            {FOUND.filter((found) => spot !== 'thumb' || found === 'loose' || found === 'gone').map(
              (found) => (
                <Toggle
                  key={found}
                  aria-label={`Marker ${name} ${found}`}
                  on={logged[`${spot} ${found}`] !== undefined}
                  onClick={() => tap(spot, name, found)}
                >
                  {found}
                </Toggle>
              ),
            )}
          </Stack>
        ))}
      <HearMarker
        instrument={instrument}
        spots={on.map(({ spot }) => spot)}
        onHeard={(finger, cents) =>
          void log(
            { kind: 'heard', finger, proof: 'tuner', cents, microphone: true },
            `marker ${markerName(finger)} ${centsWords(cents)}`,
          )
        }
      />
    </Box>
  );
}
