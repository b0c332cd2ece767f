import Stack from '@mui/material/Stack';
import Autocomplete, { createFilterOptions } from '@mui/material/Autocomplete';
import Box from '@mui/material/Box';
import TextField from '@mui/material/TextField';
import { useMemo } from 'react';
import type { Instrument, Means, Preview } from '../../api/client';
import { OneOf } from '../../parts/OneOf';
import { Toggle } from '../../parts/Toggle';
import { INSTRUMENTS } from '../../words/looks';
import { capital } from '../../words/text';

/** How the file is read; every change looks at it again. */
export interface How {
  mapping: Record<string, Means>;
  letters?: string | undefined;
  groups?: string[] | undefined;
  instrument?: Instrument | undefined;
  keepNames: boolean;
}

/** More groups than these are searched instead of shown. */
const MOST_SHOWN = 12;

interface Part {
  preview: Preview;
  how: How;
  onRead: (how: How) => void;
}

/** Which rows of the file are meant, and how they are taken. */
export function Choices({ preview, how, onRead }: Part) {
  const chosen = preview.groups.filter((group) => group.chosen).map(({ name }) => name);
  return (
    <Box sx={{ display: 'grid', gap: 1.5 }}>
      {preview.groups.length > MOST_SHOWN && <SearchedGroups preview={preview} how={how} onRead={onRead} />}
      {preview.groups.length > 1 && preview.groups.length <= MOST_SHOWN && (
        <Stack
          direction="row"
          spacing={0.75}
          role="group"
          aria-label="Groups of the file"
          sx={{ flexWrap: 'wrap' }}
        >
          {preview.groups.map(({ name, rows, chosen: on }) => (
            <Toggle
              key={name}
              on={on}
              onClick={() =>
                onRead({ ...how, groups: on ? chosen.filter((other) => other !== name) : [...chosen, name] })
              }
            >
              {name} ({rows})
            </Toggle>
          ))}
        </Stack>
      )}
      <Stack direction="row" spacing={0.75} sx={{ flexWrap: 'wrap', alignItems: 'center' }}>
        <span aria-hidden>Rows without an instrument:</span>
        <OneOf
          name="Rows without an instrument"
          value={how.instrument ?? 'none'}
          options={[['none', 'Leave out'], ...INSTRUMENTS.map((one) => [one, capital(one)] as const)]}
          onChoose={(kind) => onRead({ ...how, instrument: kind === 'none' ? undefined : kind })}
        />
        <Toggle on={how.keepNames} onClick={() => onRead({ ...how, keepNames: !how.keepNames })}>
          Keep whole names
        </Toggle>
      </Stack>
    </Box>
  );
}

/** As many groups as are offered at once: typing finds the others. */
const search = createFilterOptions<Preview['groups'][number]>({ limit: 60 });

function SearchedGroups({ preview, how, onRead }: Part) {
  // The same list while nothing is chosen anew: another one would clear what is typed.
  const chosen = useMemo(() => {
    const names = new Set(how.groups);
    return preview.groups.filter(({ name }) => names.has(name));
  }, [how.groups, preview.groups]);
  return (
    <Autocomplete
      multiple
      disableCloseOnSelect
      limitTags={6}
      options={preview.groups}
      filterOptions={search}
      value={chosen}
      getOptionKey={({ name }) => name}
      getOptionLabel={({ name, rows }) => `${name} (${rows})`}
      isOptionEqualToValue={(one, other) => one.name === other.name}
      onChange={(_, groups) =>
        onRead({ ...how, groups: groups.length > 0 ? groups.map(({ name }) => name) : undefined })
      }
      sx={{ maxWidth: 720 }}
      renderInput={(params) => (
        <TextField
          {...params}
          label="Groups of the file"
          placeholder={chosen.length === 0 ? `${preview.groups.length} groups: type to find yours` : ''}
        />
      )}
    />
  );
}
