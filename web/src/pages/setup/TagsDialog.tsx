import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import FormControlLabel from '@mui/material/FormControlLabel';
import Radio from '@mui/material/Radio';
import RadioGroup from '@mui/material/RadioGroup';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { useLocalSetting } from '../../parts/useLocalSetting';

/** What tags are printed on: what is asked for, how many labels a sheet has, and what it is called. */
const SHEETS = {
  a4: ['paper=a4', 0, 'Plain A4, to cut out'],
  letter: ['paper=letter', 0, 'Plain Letter, to cut out'],
  twentyFour: ['sheet=twentyFour', 24, 'A4, 24 labels of 70 × 37 mm'],
  twentyOne: ['sheet=twentyOne', 21, 'A4, 21 labels of 63.5 × 38.1 mm'],
  thirty: ['sheet=thirty', 30, 'Letter, 30 labels of 2⅝ × 1 in'],
} as const;
type SheetName = keyof typeof SHEETS;
const NAMES: [SheetName, ...SheetName[]] = ['a4', 'letter', 'twentyFour', 'twentyOne', 'thirty'];

/** Chooses what the store room's tags are printed on; this device remembers it. */
export function TagsDialog({ classId, onClose }: { classId: string; onClose: () => void }) {
  const [sheet, setSheet] = useLocalSetting<SheetName>('tag-sheet', NAMES);
  const [used, setUsed] = useState('0');
  const [query, many] = SHEETS[sheet];
  const begun = /^\d{1,2}$/.test(used) ? Number(used) : NaN;
  const fits = many === 0 || begun < many;
  const href = `/api/classes/${classId}/labels.pdf?${query}${many > 0 ? `&begun=${begun}` : ''}`;
  return (
    <Dialog open onClose={onClose} aria-labelledby="tags-title" fullWidth maxWidth="xs">
      <DialogTitle id="tags-title" variant="h2">
        Print tags
      </DialogTitle>
      <DialogContent sx={{ display: 'grid', gap: 1.5 }}>
        <RadioGroup
          aria-label="What they are printed on"
          value={sheet}
          onChange={(_, value) => setSheet(value as SheetName)}
        >
          {NAMES.map((name) => (
            <FormControlLabel key={name} value={name} control={<Radio />} label={SHEETS[name][2]} />
          ))}
        </RadioGroup>
        {many > 0 && (
          <>
            <TextField
              label="Labels of the first sheet that are used already"
              size="small"
              value={used}
              error={!fits}
              helperText={fits ? ' ' : `0 to ${many - 1}`}
              onChange={({ target }) => setUsed(target.value)}
              slotProps={{ htmlInput: { inputMode: 'numeric', maxLength: 2 } }}
            />
            <Typography sx={{ color: 'text.secondary' }}>
              Print at 100 %, without fitting to the page.
            </Typography>
          </>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
        <Button component="a" href={href} download variant="contained" disabled={!fits}>
          Tags as PDF
        </Button>
      </DialogActions>
    </Dialog>
  );
}
