import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { classesQuery } from '../../api/queries';
import { Card } from '../../parts/page';

/** What is left to do once the children have moved. */
export function Afterwards({ classId }: { classId: string }) {
  const classes = useQuery(classesQuery);
  const program = classes.data?.find(({ id }) => id === classId)?.programId;
  const school = program ? `/school/${program}` : '/account';
  return (
    <Card aria-label="Afterwards" sx={{ display: 'grid', gap: 1 }}>
      <Typography variant="h2">Afterwards</Typography>
      <Box component="ul" sx={{ m: 0, pl: 2.5, display: 'grid', gap: 0.75 }}>
        <li>
          Measure again: children grew. In the new class, <Link to={`/class/${classId}/set-up/fit`}>Fit</Link>{' '}
          says who wants another size.
        </li>
        <li>
          <Link to={`${school}/classes`}>Archive this class</Link>: it can be read and changes no more.
        </li>
        <li>
          It is deleted by itself when{' '}
          <Link to={`${school}/keeping`}>the time that the school keeps things</Link> is over; that page says
          when.
        </li>
      </Box>
    </Card>
  );
}
