import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogContentText from '@mui/material/DialogContentText';
import DialogTitle from '@mui/material/DialogTitle';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import type { useAction } from './useAction';

/** One thing that a document says: what it is, and what is said. */
export type Said = readonly [label: string, text: string];

interface Props<T> {
  /** What wanted to save. */
  action: ReturnType<typeof useAction>;
  /** What is on this page and not saved. */
  mine: T;
  says: (document: T) => Said[];
  /** Saves what is on this page in the place of that version; absent: it is gone. */
  onMine: (version: string | undefined) => void;
  /** Takes what somebody else saved. */
  onTheirs: () => void;
}

/** Somebody else saved the same meanwhile: both, and what to do. What is on the page stays until one of them is chosen. */
export function SavedMeanwhile<T>({ action, mine, says, onMine, onTheirs }: Props<T>) {
  const { conflict } = action;
  if (!conflict) return null;
  const theirs = new Map(conflict.document === undefined ? [] : says(conflict.document as T));
  const ours = new Map(says(mine));
  const labels = [...new Set([...theirs.keys(), ...ours.keys()])];
  const others = labels.filter((label) => theirs.get(label) !== ours.get(label));
  return (
    <Dialog open onClose={action.clear} fullWidth maxWidth="sm" aria-labelledby="meanwhile-title">
      <DialogTitle id="meanwhile-title" component="h2">
        Saved by somebody else meanwhile
      </DialogTitle>
      <DialogContent>
        <DialogContentText sx={{ color: 'text.primary' }}>
          {conflict.document === undefined
            ? 'It is gone meanwhile. What you changed is still here.'
            : 'What you changed is still here. This is not the same in both:'}
        </DialogContentText>
        <Table size="small" sx={{ mt: 1 }}>
          <TableHead>
            <TableRow>
              <TableCell scope="col">What</TableCell>
              <TableCell scope="col">Saved now</TableCell>
              <TableCell scope="col">Yours</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {others.map((label) => (
              <TableRow key={label}>
                <TableCell component="th" scope="row">
                  {label}
                </TableCell>
                <TableCell>{theirs.get(label) ?? '–'}</TableCell>
                <TableCell>{ours.get(label) ?? '–'}</TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      </DialogContent>
      <DialogActions disableSpacing sx={{ flexWrap: 'wrap', gap: 1, p: 2 }}>
        <Button onClick={action.clear}>Go on changing</Button>
        <Button
          variant="outlined"
          onClick={() => {
            action.clear();
            onTheirs();
          }}
        >
          Take what is saved
        </Button>
        <Button variant="contained" loading={action.busy} onClick={() => onMine(conflict.version)}>
          Save yours instead
        </Button>
      </DialogActions>
    </Dialog>
  );
}
