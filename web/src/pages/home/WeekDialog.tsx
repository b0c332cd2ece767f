import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import type { Schemas } from '../../api/client';
import { $api, ofClass } from '../../api/queries';
import { FileButton, Read } from '../../parts/page';
import { weekdayWords } from '../../words/dates';
import { blockWords } from '../../words/home';

interface Props {
  classId: string;
  one: Schemas['ChildAtHome'];
  onClose: () => void;
}

/** What a child does at home, day by day: the same that its card prints. */
export function WeekDialog({ classId, one, onClose }: Props) {
  const { child, shows, sore } = one;
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
                  {days.map(({ date, blocks }) => (
                    <TableRow key={date}>
                      <TableCell component="th" scope="row" sx={{ fontWeight: 700, whiteSpace: 'nowrap' }}>
                        {weekdayWords(date)}
                      </TableCell>
                      <TableCell sx={{ fontSize: '1rem' }}>{blocks.map(blockWords).join(' · ')}</TableCell>
                    </TableRow>
                  ))}
                </TableBody>
              </Table>
            </>
          )}
        </Read>
      </DialogContent>
      <DialogActions sx={{ flexWrap: 'wrap' }}>
        <FileButton href={`${files}/practice.ics`}>Calendar (.ics)</FileButton>
        <FileButton href={`${files}/family-card.html`}>As a page (HTML)</FileButton>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  );
}
