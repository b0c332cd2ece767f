import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useCallback } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { useSignals } from './signals';
import { Wall } from './Wall';
import type { LeadSignal } from '../../api/live';

/** The projector before a drill is put up from the phone. */
export function Waiting() {
  const { classId = '' } = useParams();
  const navigate = useNavigate();
  const hear = useCallback(
    ({ action, drill }: LeadSignal) => {
      if (action === 'open' && drill) void navigate(`/class/${classId}/lead/${drill}`);
    },
    [classId, navigate],
  );
  useSignals(classId, hear);
  return (
    <Wall>
      <span />
      <Box sx={{ display: 'grid', placeContent: 'center', textAlign: 'center', gap: 2 }}>
        <Typography variant="h1" sx={{ fontSize: 'clamp(2rem, 5vw, 5rem)' }}>
          Ready for the first drill
        </Typography>
        <Typography sx={{ fontSize: 'clamp(1.2rem, 2vw, 2rem)' }}>
          On your phone, signed in as here: Lessons, Next lesson, Phone as remote.
        </Typography>
      </Box>
      <Box>
        <Button component={Link} variant="outlined" to={`/class/${classId}/lessons/next`}>
          Leave
        </Button>
      </Box>
    </Wall>
  );
}
