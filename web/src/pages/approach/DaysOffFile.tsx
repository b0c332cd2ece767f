import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { ApiProblem, sendFile, type Schemas } from '../../api/client';
import { FilePick } from '../../parts/FilePick';
import { count, sentence, shortened } from '../../words/text';

type Found = Schemas['DaysOffFound'];
type Why = Schemas['WhyLeftOut'];

/** What is said of entries that were not taken, or not all of them; in the order in which it matters. */
const WHY: [Why, string][] = [
  ['unreadable', 'When they begin cannot be read; add them by hand'],
  ['rule', 'How they repeat cannot be worked out; only the first time was taken, add the others by hand'],
  ['long', 'Longer than 120 days, so no day off; add them by hand if they are'],
  ['timed', 'With a time of day; the class may meet all the same'],
  ['cancelled', 'Called off in the calendar'],
];

interface Props {
  classId: string;
  /** Days off on which the class would meet: to be looked at and kept with the rest. */
  onFound: (days: Found['days']) => void;
}

/** Days off out of the school's calendar file, and what of it was not taken. */
export function DaysOffFile({ classId, onFound }: Props) {
  const [found, setFound] = useState<Found>();
  const [unread, setUnread] = useState<string>();
  const readFile = async (file: File) => {
    setUnread(undefined);
    setFound(undefined);
    try {
      const read = await sendFile<Found>(`/api/classes/${classId}/calendar/days-off`, {}, file);
      setFound(read);
      onFound(read.days);
    } catch (reason) {
      const details = reason instanceof ApiProblem ? reason.details.join(' ') : '';
      setUnread(details || (reason instanceof Error ? reason.message : String(reason)));
    }
  };
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <FilePick
        label="Days off from the school’s calendar file"
        accept=".ics,text/calendar"
        busy={false}
        onStop={() => undefined}
        onFile={(file) => void readFile(file)}
      />
      {found && <FoundDays found={found} />}
      {unread && <Alert severity="error">{unread}</Alert>}
    </Box>
  );
}

function FoundDays({ found }: { found: Found }) {
  const reasons = WHY.map(([why, words]) => ({
    words,
    names: found.leftOut.filter((left) => left.why === why).map(({ name }) => name),
  })).filter(({ names }) => names.length > 0);
  return (
    <Box role="status" sx={{ display: 'grid', gap: 1 }}>
      <Typography>
        {count(found.days.length, 'meeting day')} found in it
        {found.days.length > 0 && ', added above and kept with the rest'}
        {found.others > 0 && `; ${count(found.others, 'other day')} without a meeting`}.
      </Typography>
      {reasons.length > 0 && (
        <Alert severity="info">
          Not taken from the file, or not all of it:
          <Box component="ul" sx={{ m: 0, mt: 0.5, pl: 2.5 }}>
            {reasons.map(({ words, names }) => (
              <li key={words}>
                {words}: <strong>{sentence(shortened(names, 12))}</strong>
              </li>
            ))}
          </Box>
        </Alert>
      )}
    </Box>
  );
}
