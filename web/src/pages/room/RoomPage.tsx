import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { styled } from '@mui/material/styles';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { Link, Outlet, useLocation, useNavigate, useParams } from 'react-router';
import { useEventCallback } from 'usehooks-ts';
import { useLive } from '../../api/live';
import { whenIdle } from '../../whenIdle';
import { classesQuery, queryClient, roomQuery, roundQuery } from '../../api/queries';
import { useRoomNow } from '../../offline/overlay';
import { Failed, Loading } from '../../parts/Message';
import { RoomHead } from './RoomHead';
import { Rows } from './Rows';
import { isShown, type Show } from './rows';

const Floor = styled('div')(({ theme }) => ({
  display: 'grid',
  height: '100%',
  gridTemplateColumns: 'minmax(0, 1fr)',
  gridTemplateRows: 'minmax(0, 1fr)',
  '&.with-child': { gridTemplateColumns: 'minmax(0, 1fr) 388px' },
  // On an upright tablet the child opens below the rows, on a phone over them.
  [theme.breakpoints.down(1100)]: {
    '&.with-child': {
      gridTemplateColumns: 'minmax(0, 1fr)',
      gridTemplateRows: 'minmax(0, 46fr) minmax(0, 54fr)',
    },
  },
  [theme.breakpoints.down('sm')]: { overflow: 'auto', gridTemplateRows: 'auto !important' },
}));

const Seats = styled('section')(({ theme }) => ({
  display: 'flex',
  flexDirection: 'column',
  gap: theme.spacing(1),
  minHeight: 0,
  padding: theme.spacing(1.5, 2, 1),
  overflow: 'auto',
  [theme.breakpoints.down('sm')]: { padding: theme.spacing(1.5), overflow: 'visible' },
}));

/** The room itself: the rows of chairs, and the child that is open beside them. */
export function RoomPage() {
  const { classId = '', childId } = useParams();
  const navigate = useNavigate();
  const { hash } = useLocation();
  const answer = useQuery(roomQuery(classId));
  const classes = useQuery(classesQuery);
  const room = useRoomNow(classId, answer.data);
  const [show, setShow] = useState<Show>({ name: '' });
  useLive(classId);
  // The same every time, so that no chair is drawn again for it.
  const open = useEventCallback(
    (id: string) => void navigate({ pathname: `/class/${classId}/room/${id}`, hash }),
  );
  const isThere = answer.data !== undefined;
  // So that a round can be started without network; the room comes first.
  useEffect(() => {
    if (!isThere) return;
    whenIdle(() => {
      queryClient.query({ ...roundQuery(classId), staleTime: 600_000 }).catch(() => undefined);
    });
  }, [classId, isThere]);

  if (answer.error && !answer.data)
    return <Failed error={answer.error} onRetry={() => void answer.refetch()} />;
  if (!room) return <Loading what="The room is being set" />;

  const others = classes.data?.filter((other) => other.id !== classId) ?? [];
  const empty = room.children.length === 0;
  const director = room.mayChange;

  return (
    <Floor className={childId ? 'with-child' : undefined}>
      <Seats aria-label="Rows">
        <RoomHead
          room={room}
          show={show}
          onShow={setShow}
          onFound={() => {
            const found = room.children.find((child) => isShown(child, show));
            if (found) open(found.id);
          }}
          title={<Typography variant="h1">{room.name}</Typography>}
          actions={
            <>
              {others.map((other) => (
                <Button key={other.id} component={Link} to={`/class/${other.id}/room`}>
                  {other.name}
                </Button>
              ))}
              {director && !childId && (
                <Button
                  component={Link}
                  to={`/class/${classId}/children/new`}
                  variant={empty ? 'contained' : 'text'}
                >
                  Add children
                </Button>
              )}
            </>
          }
        />
        {empty ? (
          <Typography sx={{ maxWidth: 520, py: 4 }}>
            {director
              ? 'No chair is taken yet. Add the children with their instruments first: a first name and one letter is enough.'
              : 'No chair is taken yet. A director of the program adds the children.'}
          </Typography>
        ) : (
          <>
            <Rows children={room.children} show={show} openId={childId} onOpen={open} />
            <Box
              className="podium"
              sx={{
                textAlign: 'center',
                color: 'text.secondary',
                lineHeight: 1,
                display: { xs: 'none', sm: 'block' },
              }}
            >
              <Box sx={{ width: 150, mx: 'auto', borderTop: 2, borderColor: 'divider', pt: 0.5 }}>podium</Box>
            </Box>
          </>
        )}
      </Seats>
      <Outlet />
    </Floor>
  );
}
