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
import { weekWords } from '../../words/home';

interface Props {
  classId: string;
  one: Schemas['ChildAtHome'];
  /** The paper, and whether in large print, as the address has it. */
  how: string;
  onClose: () => void;
}

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
          {({ minutesPerDay, days }) => (
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
            </>
          )}
        </Read>
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
