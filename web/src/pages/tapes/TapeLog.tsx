import Stack from '@mui/material/Stack';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import type { TapePage } from '../../api/client';
import type { Pending } from '../../offline/outbox';
import type { NewTapeEntry } from '../../api/client';
import { length, useUnit } from '../../parts/units';
import { dayWords } from '../../words/dates';
import { entryWords } from '../../words/tapeLog';

interface Props {
  page: TapePage;
  pending: readonly Pending<NewTapeEntry>[];
  onUndo: (event: string, words: string) => void;
}

const FIRST = 12;

/** Everything that was done and seen, newest first; an entry can be taken back and stays legible. */
export function TapeLog({ page, pending, onUndo }: Props) {
  const [all, setAll] = useState(false);
  const [unit] = useUnit();
  const waiting = pending.filter(
    ({ item }) =>
      item.asset === page.asset && item.kind !== 'undone' && !page.log.some(({ id }) => id === item.id),
  );
  const takenBack = new Set(pending.flatMap(({ item }) => (item.kind === 'undone' && item.event) || []));
  const shown = all ? page.log : page.log.slice(0, FIRST);
  if (waiting.length + page.log.length === 0)
    return <Typography>Nothing yet. Begin with the string, nut to bridge.</Typography>;
  return (
    <>
      <Box component="ul" sx={{ listStyle: 'none', m: 0, p: 0 }}>
        {waiting.toReversed().map(({ item, label }) => (
          <li key={item.id}>
            <Typography sx={{ color: 'text.secondary', py: 1 }}>{label}: on its way</Typography>
          </li>
        ))}
        {shown.map((entry, index) => {
          const { id } = entry;
          const words = entryWords(entry, (mm) => length(mm, unit));
          const undone = entry.undone || (id !== undefined && takenBack.has(id));
          return (
            <Stack
              direction="row"
              spacing={1}
              component="li"
              key={id ?? `${entry.at}-${index}`}
              sx={{ alignItems: 'center', minHeight: 44 }}
            >
              <Typography sx={{ flex: 1, textDecoration: undone ? 'line-through' : 'none' }}>
                {dayWords(entry.at)}, {entry.by}: {words}
              </Typography>
              {undone ? (
                <Typography sx={{ color: 'text.secondary' }}>taken back</Typography>
              ) : (
                id !== undefined && (
                  <Button aria-label={`Take back: ${words}`} onClick={() => onUndo(id, words)}>
                    Take back
                  </Button>
                )
              )}
            </Stack>
          );
        })}
      </Box>
      {page.log.length > shown.length && (
        <Button onClick={() => setAll(true)}>All {page.log.length} entries</Button>
      )}
    </>
  );
}
