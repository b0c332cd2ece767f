import Stack from '@mui/material/Stack';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { api, unwrap, type FitChild, type Schemas } from '../../api/client';
import { dayWords } from '../../words/dates';
import { Card } from '../../parts/page';
import { fromMm, length, toMm, type Unit } from '../../parts/units';
import { useAction } from '../../parts/useAction';
import { useIdFor } from '../../parts/useIdFor';

type Part = Schemas['SetUpPart'];

/** The parts worth recording for an instrument, and whether each is a length. */
function partsOf({ instrument }: FitChild): [part: Part, name: string, isLength: boolean][] {
  const all: [Part, string, boolean][] = [
    ['seat', 'Seat height', true],
    ['pin', 'Pin out', true],
    ['stand', 'Stand height', true],
    ['support', 'Support', false],
  ];
  const low = instrument === 'cello' || instrument === 'bass';
  return all.filter(([part]) => (part === 'pin' ? low : part === 'support' ? !low : true));
}

/** What was found right in the end goes before every estimate. */
export function FoundFields({ classId, child, unit }: { classId: string; child: FitChild; unit: Unit }) {
  const action = useAction(classId);
  const ids = useIdFor();
  const parts = partsOf(child);
  const shown = (part: Part, isLength: boolean) => {
    const found = child.card.found[part];
    return isLength ? fromMm(found?.mm, unit) : (found?.words ?? '');
  };
  const [typed, setTyped] = useState<Partial<Record<Part, string>>>({});
  const changed = parts.filter(([part, , isLength]) => {
    const text = typed[part]?.trim() ?? '';
    return text !== '' && text !== shown(part, isLength) && (!isLength || toMm(text, unit) !== undefined);
  });
  const save = () =>
    void action
      .run(async () => {
        for (const [part, , isLength] of changed) {
          const text = typed[part] ?? '';
          const mm = isLength ? toMm(text, unit) : undefined;
          const found = { part, words: isLength ? '' : text.trim(), ...(mm !== undefined && { mm }) };
          await unwrap(
            api.POST('/api/classes/{class}/children/{child}/findings', {
              params: { path: { class: classId, child: child.id } },
              body: { id: ids.idFor({ child: child.id, ...found }), ...found },
            }),
          );
        }
      })
      .then((kept) => {
        if (!kept) return;
        ids.done();
        setTyped({});
      });
  return (
    <Card aria-label="Found right">
      <Typography variant="h3" component="h3">
        Found right in the end
      </Typography>
      <Stack direction="row" spacing={1.5} sx={{ flexWrap: 'wrap', mt: 1.5, alignItems: 'flex-start' }}>
        {parts.map(([part, name, isLength]) => {
          const found = child.card.found[part];
          const last = found && (found.mm !== undefined ? length(found.mm, unit) : found.words);
          return (
            <TextField
              key={part}
              size="small"
              label={isLength ? `${name}, ${unit}` : name}
              placeholder={isLength ? '' : 'such as sponge, 3 cm'}
              value={typed[part] ?? shown(part, isLength)}
              helperText={found ? `${last ?? ''} on ${dayWords(found.on)}` : 'not recorded yet'}
              sx={{ width: 170 }}
              onChange={(event) => setTyped({ ...typed, [part]: event.target.value })}
            />
          );
        })}
        <Button variant="outlined" disabled={changed.length === 0} loading={action.busy} onClick={save}>
          Record
        </Button>
      </Stack>
      {action.error && (
        <Typography role="alert" sx={{ color: 'error.main', mt: 1 }}>
          {action.error}
        </Typography>
      )}
    </Card>
  );
}
