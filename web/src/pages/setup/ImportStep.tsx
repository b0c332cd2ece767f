import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { ApiProblem, type Instrument, type Means, type Preview } from '../../api/client';
import { Chip } from '../../parts/Chip';
import { capital, count, INSTRUMENTS } from '../../words';
import { FilePick } from '../../parts/FilePick';
import { PageContent, Table } from '../../parts/page';
import { useImport } from '../../parts/useImport';

const MEANS: [Means, string][] = [
  ['name', 'Whole name'],
  ['given', 'First name'],
  ['family', 'Family name'],
  ['instrument', 'Instrument'],
  ['grade', 'Grade'],
  ['number', 'School number'],
  ['group', 'Class or group'],
  ['nearFront', 'Near the front'],
  ['nearAisle', 'Near an aisle'],
  ['nothing', 'Leave out'],
];

const ACTIONS = { new: 'new', changed: 'changes', same: 'as it is', refused: 'left out' } as const;

/** How the file is read; every change looks at it again. */
interface How {
  mapping: Record<string, Means>;
  groups?: string[] | undefined;
  instrument?: Instrument | undefined;
  keepNames: boolean;
}

function queryOf({ mapping, groups, instrument, keepNames }: How): Record<string, string> {
  return {
    ...(Object.keys(mapping).length > 0 && { mapping: JSON.stringify(mapping) }),
    ...(groups && { groups: JSON.stringify(groups) }),
    ...(instrument && { instrument }),
    keepNames: String(keepNames),
  };
}

/** A file from the office: first what each row would become, then all of it or nothing. */
export function ImportStep() {
  const { classId = '' } = useParams();
  const navigate = useNavigate();
  const [how, setHow] = useState<How>({ mapping: {}, keepNames: false });
  const file = useImport<Preview>(classId, 'roster/import');
  const { preview } = file;
  const read = (next: How) => {
    setHow(next);
    if (file.file) void file.look(file.file, queryOf(next));
  };
  const agree = async () => {
    if (await file.agree(queryOf(how))) await navigate(`/class/${classId}/set-up/roster`);
  };
  const todo = preview ? preview.new + preview.changed : 0;
  const problem = file.error instanceof ApiProblem ? [...file.error.fields.values()].join(' ') : '';
  return (
    <PageContent
      name="Import"
      bar={
        <>
          <Typography variant="h2">Import a roster</Typography>
          <Button component={Link} to={`/class/${classId}/set-up/roster`}>
            Back to the roster
          </Button>
        </>
      }
    >
      <Box sx={{ display: 'grid', gap: 2 }}>
        <FilePick
          label="Choose the file"
          name={file.file?.name}
          accept=".csv,.tsv,.txt,.zip,text/csv"
          busy={file.busy}
          onStop={file.stop}
          onFile={(next) => {
            const begin: How = { mapping: {}, keepNames: how.keepNames };
            setHow(begin);
            void file.look(next, queryOf(begin));
          }}
        />
        {!file.file && (
          <Typography sx={{ maxWidth: 720 }}>
            A table saved as CSV, or the office’s OneRoster export as a zip. Nothing is stored before you have
            seen what each row becomes and agreed. Names are kept as a first name and one letter.
          </Typography>
        )}
        {file.error && (
          <Alert severity="error" variant="outlined" sx={{ maxWidth: 720, color: 'text.primary' }}>
            {problem || file.error.message}
          </Alert>
        )}
        {preview && (
          <>
            <Columns preview={preview} how={how} onRead={read} />
            <Choices preview={preview} how={how} onRead={read} />
            <Box
              role="status"
              sx={{ display: 'flex', flexWrap: 'wrap', gap: 2, alignItems: 'center', fontSize: '1.05rem' }}
            >
              <span>
                <strong>{preview.new}</strong> new, <strong>{preview.changed}</strong> changed,{' '}
                <strong>{preview.same}</strong> as they are, <strong>{preview.refused}</strong> left out
              </span>
              <Button
                variant="contained"
                disabled={todo === 0 || preview.needs !== undefined || file.busy}
                onClick={() => void agree()}
              >
                {todo === 0 ? 'Nothing to import' : `Import ${count(todo, 'child', 'children')}`}
              </Button>
            </Box>
            {preview.needs && (
              <Alert severity="warning" variant="outlined" sx={{ maxWidth: 720, color: 'text.primary' }}>
                {preview.needs}
              </Alert>
            )}
            {preview.untouched.length > 0 && (
              <Typography>
                Not in this file, and kept as they are: {preview.untouched.slice(0, 40).join(', ')}
                {preview.untouched.length > 40 && ` and ${preview.untouched.length - 40} more`}.
              </Typography>
            )}
            <Fates preview={preview} />
          </>
        )}
      </Box>
    </PageContent>
  );
}

interface Part {
  preview: Preview;
  how: How;
  onRead: (how: How) => void;
}

function Columns({ preview, how, onRead }: Part) {
  if (preview.columns.length === 0) return null;
  return (
    <Box>
      <Typography variant="h3" component="h3" sx={{ mb: 1 }}>
        What the columns hold
      </Typography>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5 }}>
        {preview.columns.map((column, index) => (
          <TextField
            key={`${index} ${column.heading}`}
            select
            size="small"
            label={column.heading || `column ${index + 1}`}
            value={column.means}
            helperText={column.example ? `such as ${column.example}` : 'empty'}
            sx={{ width: 180 }}
            onChange={(event) => {
              const means = event.target.value as Means;
              // Each meaning is one column's: whoever had it before is left out.
              const mapping = Object.fromEntries(
                preview.columns.map((other) => [
                  other.heading,
                  other.means === means ? ('nothing' as const) : other.means,
                ]),
              );
              onRead({ ...how, mapping: { ...mapping, [column.heading]: means } });
            }}
          >
            {MEANS.map(([means, name]) => (
              <MenuItem key={means} value={means}>
                {name}
              </MenuItem>
            ))}
          </TextField>
        ))}
      </Box>
    </Box>
  );
}

function Choices({ preview, how, onRead }: Part) {
  const chosen = preview.groups.filter((group) => group.chosen).map(({ name }) => name);
  return (
    <Box sx={{ display: 'grid', gap: 1.5 }}>
      {preview.groups.length > 1 && (
        <Box
          role="group"
          aria-label="Groups of the file"
          sx={{ display: 'flex', flexWrap: 'wrap', gap: 0.75 }}
        >
          {preview.groups.map(({ name, rows, chosen: on }) => (
            <Chip
              key={name}
              aria-pressed={on}
              onClick={() =>
                onRead({ ...how, groups: on ? chosen.filter((other) => other !== name) : [...chosen, name] })
              }
            >
              {name} ({rows})
            </Chip>
          ))}
        </Box>
      )}
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 0.75, alignItems: 'center' }}>
        <span id="fallback">Rows without an instrument:</span>
        <Box role="group" aria-labelledby="fallback" sx={{ display: 'flex', flexWrap: 'wrap', gap: 0.75 }}>
          <Chip
            aria-pressed={how.instrument === undefined}
            onClick={() => onRead({ ...how, instrument: undefined })}
          >
            Leave out
          </Chip>
          {INSTRUMENTS.map((kind) => (
            <Chip
              key={kind}
              aria-pressed={how.instrument === kind}
              onClick={() => onRead({ ...how, instrument: kind })}
            >
              {capital(kind)}
            </Chip>
          ))}
        </Box>
        <Chip aria-pressed={how.keepNames} onClick={() => onRead({ ...how, keepNames: !how.keepNames })}>
          Keep whole names
        </Chip>
      </Box>
    </Box>
  );
}

/** As many rows as a page shows without becoming slow; what wants a look comes first. */
const SHOWN = 400;

function Fates({ preview }: { preview: Preview }) {
  const order = { refused: 0, changed: 1, new: 2, same: 3 } as const;
  const rows = [...preview.rows].sort((a, b) => order[a.action] - order[b.action] || a.line - b.line);
  return (
    <>
      <Table>
        <thead>
          <tr>
            <th scope="col" className="number">
              Line
            </th>
            <th scope="col">Name</th>
            <th scope="col">Instrument</th>
            <th scope="col">What happens</th>
          </tr>
        </thead>
        <tbody>
          {rows.slice(0, SHOWN).map((row, index) => (
            <tr key={`${row.line} ${index}`} className={row.action === 'same' ? 'quiet' : undefined}>
              <td className="number">{row.line}</td>
              <td>{row.name}</td>
              <td>{row.instrument ?? '–'}</td>
              <td>
                <strong>{ACTIONS[row.action]}</strong>
                {row.words && `: ${row.words}`}
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
      {rows.length > SHOWN && (
        <Typography>… and {rows.length - SHOWN} more rows of the same kinds.</Typography>
      )}
    </>
  );
}
