import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import { styled } from '@mui/material/styles';
import { useQuery } from '@tanstack/react-query';
import { NavLink, Outlet, useParams } from 'react-router';
import { useLive } from '../../api/live';
import { classesQuery } from '../../api/queries';

const STEPS = [
  ['roster', 'Roster'],
  ['fit', 'Fit'],
  ['instruments', 'Instruments'],
  ['match', 'Match'],
  ['seats', 'Seats'],
  ['supplies', 'Supplies'],
] as const;

const Step = styled(NavLink)(({ theme }) => ({
  flex: 'none',
  display: 'inline-flex',
  alignItems: 'center',
  minHeight: 44,
  padding: theme.spacing(0, 1.5),
  color: theme.vars.palette.text.primary,
  textDecoration: 'none',
  borderBottom: '3px solid transparent',
  '&:hover': { borderColor: theme.vars.palette.divider },
  '&.active': { borderColor: theme.vars.palette.own.glow, fontWeight: 700 },
}));

/** Setting up a class, in the order of the work. */
export function SetupPlace() {
  const { classId = '' } = useParams();
  const classes = useQuery(classesQuery);
  useLive(classId);
  const here = classes.data?.find(({ id }) => id === classId);
  const others = classes.data?.filter(({ id }) => id !== classId) ?? [];
  return (
    <Box sx={{ height: '100%', display: 'flex', flexDirection: 'column', minHeight: 0 }}>
      <Box
        component="header"
        sx={{ px: { xs: 1.5, sm: 2 }, pt: 1.5, borderBottom: 1, borderColor: 'divider' }}
      >
        <Box sx={{ display: 'flex', flexWrap: 'wrap', alignItems: 'baseline', columnGap: 2 }}>
          <Typography variant="h1">{here?.name ?? 'Set-up'}</Typography>
          {others.map(({ id, name }) => (
            <Step key={id} to={`/class/${id}/set-up/roster`}>
              {name}
            </Step>
          ))}
        </Box>
        <Box component="nav" aria-label="Set-up" sx={{ display: 'flex', overflowX: 'auto' }}>
          {STEPS.map(([path, name]) => (
            <Step key={path} to={`/class/${classId}/set-up/${path}`}>
              {name}
            </Step>
          ))}
        </Box>
      </Box>
      {/* Each class and step begins anew. */}
      <Box key={classId} sx={{ flex: 1, minHeight: 0 }}>
        <Outlet />
      </Box>
    </Box>
  );
}
