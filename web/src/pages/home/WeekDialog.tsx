import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import Stack from '@mui/material/Stack';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import type { Schemas } from '../../api/client';
import { $api, ofClass } from '../../api/queries';
import { FileButton, Read } from '../../parts/page';
import { useDirector } from '../../parts/useDirector';
import { Agreement } from './Agreement';
import { backWords, weekWords } from '../../words/home';
import { dayWords } from '../../words/dates';

interface Props {
  classId: string;
  one: Schemas['ChildAtHome'];
  /** The paper, and whether in large print, as the address has it. */
  how: string;
  onClose: () => void;
}

/** So many weeks are looked back on. */
const WEEKS_BACK = 6;

/** Sheets to print; some are about an instrument that was lent. */
const SHEETS = [
  ['loan', 'Loan to sign', true],
  ['care', 'Care of the instrument', false],
  ['size-change', 'Another size', false],
  ['luthier', 'At the luthier', true],
] as const;

/** What a child does at home, day by day: the same that its card prints. */
export function WeekDialog({ classId, one, how, onClose }: Props) {
  const { child, shows, sore, lent } = one;
  const week = $api.useQuery(
    'get',
    '/api/classes/{class}/children/{child}/practice',
    ofClass(classId, { child: child.id }),
  );
  const mayChange = useDirector(classId);
  const files = `/api/classes/${classId}/children/${child.id}`;
  return (
    <Dialog open onClose={onClose} fullWidth>
      <DialogTitle>The week of {child.name}</DialogTitle>
      <DialogContent>
        <Typography>
          {shows.length > 0 ? `Shows: ${shows.join(', ')}.` : 'Shows nothing this week.'}
        </Typography>
        {sore && <Typography>Something is sore: what would use it is left out.</Typography>}
        <Read query={week} what="The week is being looked up">
          {({ minutesPerDay, days, agreed, version }) => (
            <>
              <Typography sx={{ pt: 1 }}>{minutesPerDay} minutes a day:</Typography>
              <Table size="small">
                <TableBody>
                  {weekWords(days).map(({ when, what }) => (
                    <TableRow key={when}>
                      <TableCell component="th" scope="row" sx={{ fontSize: '1rem', fontWeight: 700 }}>
                        {when}
                      </TableCell>
                      <TableCell sx={{ fontSize: '1rem' }}>{what}</TableCell>
                    </TableRow>
                  ))}
                </TableBody>
              </Table>
              {mayChange && (
                <Agreement classId={classId} childId={child.id} agreed={agreed} version={version} />
              )}
            </>
          )}
        </Read>
        <CameBack classId={classId} childId={child.id} />
        <Typography variant="h3" sx={{ pt: 2, pb: 1 }}>
          For the family
        </Typography>
        <Stack direction="row" spacing={1} useFlexGap sx={{ flexWrap: 'wrap' }}>
          {SHEETS.filter(([, , ofLoan]) => lent || !ofLoan).map(([sheet, name]) => (
            <FileButton key={sheet} href={`${files}/sheet.pdf?sheet=${sheet}&${how}`}>
              {name}
            </FileButton>
          ))}
          <FileButton href={`${files}/practice.ics`}>Calendar (.ics)</FileButton>
          <FileButton href={`${files}/family-card.html`}>Card as a page</FileButton>
        </Stack>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  );
}

/** What came back with earlier cards; nothing where nothing did. */
function CameBack({ classId, childId }: { classId: string; childId: string }) {
  const back = $api.useQuery(
    'get',
    '/api/classes/{class}/children/{child}/answers',
    ofClass(classId, { child: childId }),
  );
  const weeks = (back.data?.weeks ?? []).slice(0, WEEKS_BACK);
  if (weeks.length === 0) return null;
  return (
    <>
      <Typography variant="h3" sx={{ pt: 2 }}>
        Came back
      </Typography>
      <Box component="ul" sx={{ m: 0, pl: 2.5 }} aria-label="Came back">
        {weeks.map((week) => (
          <li key={week.week}>
            Week from {dayWords(week.week)}: {backWords(week)}
          </li>
        ))}
      </Box>
    </>
  );
}
