import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import Chip from '@mui/material/Chip';
import LinearProgress from '@mui/material/LinearProgress';
import Paper from '@mui/material/Paper';
import Stack from '@mui/material/Stack';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { useParams } from 'react-router';
import type { Instrument, Schemas } from '../../api/client';
import { $api, ofClass } from '../../api/queries';
import { InstrumentChips } from '../../parts/InstrumentChips';
import { OneOf } from '../../parts/OneOf';
import { FileButton, PageContent, Read } from '../../parts/page';
import { Toggle } from '../../parts/Toggle';
import { useLocalSetting } from '../../parts/useLocalSetting';
import { weekdayWords } from '../../words/dates';
import { count } from '../../words/text';
import { useFile } from './useFile';
import { WeekDialog } from './WeekDialog';

type Home = Schemas['HomeView'];
type Child = Schemas['ChildAtHome'];

/** The family cards of this week: one child's, a section's, the whole class's. */
export function CardsPart() {
  const { classId = '' } = useParams();
  const home = $api.useQuery('get', '/api/classes/{class}/home', ofClass(classId));
  return (
    <Read query={home} what="What goes home is being looked up">
      {(read) => <Cards classId={classId} home={read} />}
    </Read>
  );
}

const PAPERS = [
  ['a4', 'A4'],
  ['letter', 'Letter'],
] as const;

function Cards({ classId, home }: { classId: string; home: Home }) {
  const [only, setOnly] = useState<Instrument>();
  const [paper, setPaper] = useLocalSetting('card-paper', ['a4', 'letter']);
  const [large, setLarge] = useState(false);
  const [open, setOpen] = useState<Child>();
  const file = useFile();
  const children = home.children.filter(({ child }) => only === undefined || child.instrument === only);
  const how = `paper=${paper}${large ? '&large=true' : ''}`;
  const all = `/api/classes/${classId}/home/cards.pdf?${how}${only ? `&section=${only}` : ''}`;
  return (
    <PageContent
      name="Cards"
      bar={
        <>
          {file.busy ? (
            <Button variant="contained" onClick={file.stop}>
              Stop
            </Button>
          ) : (
            <Button
              variant="contained"
              disabled={children.length === 0}
              onClick={() => void file.save(all, 'family-cards.pdf')}
            >
              {count(children.length, 'card')} (PDF)
            </Button>
          )}
          <InstrumentChips only={only} onOnly={setOnly} />
          <OneOf name="Paper" value={paper} options={PAPERS} onChoose={setPaper} />
          <Toggle on={large} onClick={() => setLarge(!large)}>
            Large print
          </Toggle>
        </>
      }
    >
      {file.busy && <LinearProgress aria-label="The cards are being drawn" />}
      {file.error && <Alert severity="error">{file.error}</Alert>}
      <Typography sx={{ pb: 1 }}>
        {large ? 'One card to a sheet' : 'Two cards to a sheet, with a line to cut along'}, for the seven days
        from {weekdayWords(home.first)}. A card says what the child shows and what a grown-up sees, without
        levels.
      </Typography>
      {children.length === 0 ? (
        <Typography>{only ? `Nobody plays the ${only}.` : 'Nobody is in this class yet.'}</Typography>
      ) : (
        <Paper variant="outlined">
          <Table size="small" aria-label="Children">
            <TableBody>
              {children.map((one) => (
                <Row key={one.child.id} classId={classId} one={one} how={how} onOpen={() => setOpen(one)} />
              ))}
            </TableBody>
          </Table>
        </Paper>
      )}
      {open && <WeekDialog classId={classId} one={open} how={how} onClose={() => setOpen(undefined)} />}
    </PageContent>
  );
}

interface RowProps {
  classId: string;
  one: Child;
  how: string;
  onOpen: () => void;
}

function Row({ classId, one, how, onOpen }: RowProps) {
  const { child, shows, sore } = one;
  const what = (
    <>
      {shows.length > 0 ? shows.join(', ') : 'Shows nothing this week'}
      {sore && <Chip size="small" label="something is sore: left out" sx={{ ml: 1 }} />}
    </>
  );
  return (
    <TableRow>
      <TableCell component="th" scope="row" sx={{ fontSize: '1rem' }}>
        <Typography sx={{ fontWeight: 700 }}>{child.name}</Typography>
        <Typography color="textSecondary">{child.instrument}</Typography>
        <Typography component="div" sx={{ display: { sm: 'none' } }}>
          {what}
        </Typography>
      </TableCell>
      <TableCell sx={{ display: { xs: 'none', sm: 'table-cell' }, fontSize: '1rem' }}>{what}</TableCell>
      <TableCell align="right">
        <Stack direction="row" spacing={1} sx={{ justifyContent: 'flex-end' }}>
          <Button onClick={onOpen} aria-label={`Week and sheets of ${child.name}`}>
            Week
          </Button>
          <FileButton href={`/api/classes/${classId}/children/${child.id}/family-card.pdf?${how}`}>
            Card
          </FileButton>
        </Stack>
      </TableCell>
    </TableRow>
  );
}
