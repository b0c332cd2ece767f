import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Stack from '@mui/material/Stack';
import Typography from '@mui/material/Typography';
import { Link, Outlet, useOutletContext, useParams } from 'react-router';
import type { Session } from '../../api/client';
import { Parts } from '../../parts/page';

const CLASSES = ['classes', 'Classes'] as const;
const OF_OWNERS = [
  ['people', 'People'],
  ['keeping', 'Keeping'],
  ['audit', 'Audit'],
] as const;

/** A school's program: its classes for everybody, people and keeping for its owners. */
export function SchoolPage() {
  const session = useOutletContext<Session>();
  const { programId = '' } = useParams();
  const here = session.programs.find(({ id }) => id === programId);
  const others = session.programs.filter(({ id }) => id !== programId);
  const base = `/school/${programId}`;
  return (
    <Stack sx={{ height: '100%', minHeight: 0 }}>
      <Box
        component="header"
        sx={{ px: { xs: 1.5, sm: 2 }, pt: 1.5, borderBottom: 1, borderColor: 'divider' }}
      >
        <Stack direction="row" sx={{ flexWrap: 'wrap', alignItems: 'baseline', columnGap: 2 }}>
          <Typography variant="h1">{here?.name ?? 'School'}</Typography>
          {others.map((other) => (
            <Button key={other.id} component={Link} to={`/school/${other.id}`}>
              {other.name}
            </Button>
          ))}
        </Stack>
        <Parts
          name="School"
          base={base}
          steps={here?.role === 'owner' ? [CLASSES, ...OF_OWNERS] : [CLASSES]}
        />
      </Box>
      <Box key={programId} sx={{ flex: 1, minHeight: 0 }}>
        <Outlet context={session} />
      </Box>
    </Stack>
  );
}
