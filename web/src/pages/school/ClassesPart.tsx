import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Stack from '@mui/material/Stack';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useOutletContext, useParams } from 'react-router';
import { api, unwrap, type Schemas, type Session } from '../../api/client';
import { classesQuery, ofClass } from '../../api/queries';
import { Card, PageContent, Read } from '../../parts/page';
import { dayWords } from '../../words/dates';
import { NewClass } from '../../parts/NewClass';
import { ConfirmDialog } from './ConfirmDialog';
import { useSend } from './useSend';

type ClassView = Schemas['ClassView'];

/** The classes that one may open; a second one is added here. */
export function ClassesPart() {
  const session = useOutletContext<Session>();
  const { programId = '' } = useParams();
  const classes = useQuery(classesQuery);
  const here = session.programs.find(({ id }) => id === programId);
  return (
    <PageContent
      name="Classes"
      bar={
        here?.mayChange && (
          <>
            <Button component={Link} to={`/school/${programId}/classes/new`} variant="contained">
              Add a class
            </Button>
            {here.role === 'owner' && (
              <Button component={Link} to={`/school/${programId}/classes/taken`}>
                Take in a class
              </Button>
            )}
          </>
        )
      }
    >
      <Read query={classes} what="The classes are being looked up">
        {(all) => {
          const ours = all.filter((one) => one.programId === programId);
          if (here?.wantsSecondFactor)
            return (
              <Alert severity="info">
                The owner of this program asks everybody for a second factor. Set one up under{' '}
                <Link to="/account">Account</Link>; then its classes open.
              </Alert>
            );
          if (ours.length === 0)
            return (
              <Typography>No class is open to you yet. An owner of the program gives you one.</Typography>
            );
          return (
            <Box sx={{ display: 'grid', gap: 1.5, maxWidth: 720 }}>
              {ours.map((one) => (
                <OneClass key={one.id} one={one} />
              ))}
            </Box>
          );
        }}
      </Read>
    </PageContent>
  );
}

/** Another class. */
export function NewClassPart() {
  const session = useOutletContext<Session>();
  return <NewClass session={session} first={false} />;
}

function OneClass({ one }: { one: ClassView }) {
  const owner = one.role === 'owner';
  const action = useSend();
  const [name, setName] = useState<string>();
  const [ending, setEnding] = useState(false);
  const rename = async () => {
    const done = await action.run(() =>
      unwrap(api.PUT('/api/classes/{class}', { ...ofClass(one.id), body: { name: name ?? '' } })),
    );
    if (done) setName(undefined);
  };
  const archive = () => action.run(() => unwrap(api.POST('/api/classes/{class}/archive', ofClass(one.id))));
  const reopen = () => action.run(() => unwrap(api.POST('/api/classes/{class}/reopen', ofClass(one.id))));
  return (
    <Card aria-label={one.name}>
      <Stack direction="row" spacing={1} sx={{ flexWrap: 'wrap', alignItems: 'center' }}>
        {name === undefined ? (
          <Box sx={{ flex: 1, minWidth: 180 }}>
            <Typography variant="h2">{one.name}</Typography>
            {one.archivedAt && (
              <Typography sx={{ color: 'text.secondary' }}>
                Archived on {dayWords(one.archivedAt)}: it can be read and changes no more.
              </Typography>
            )}
          </Box>
        ) : (
          <TextField
            label="Name of the class"
            value={name}
            error={action.problemOf('name') !== undefined}
            helperText={action.problemOf('name')}
            onChange={(event) => setName(event.target.value)}
            sx={{ flex: 1 }}
          />
        )}
        {name === undefined ? (
          <>
            <Button component={Link} to={`/class/${one.id}/room`} variant="outlined">
              Open
            </Button>
            {one.mayChange && <Button onClick={() => setName(one.name)}>Rename</Button>}
            {owner && !one.archivedAt && (
              <Button loading={action.busy} onClick={() => void archive()}>
                Archive
              </Button>
            )}
            {owner && one.archivedAt && (
              <>
                <Button loading={action.busy} onClick={() => void reopen()}>
                  Open it again
                </Button>
                <Button color="error" onClick={() => setEnding(true)}>
                  Delete
                </Button>
              </>
            )}
          </>
        ) : (
          <>
            <Button variant="contained" loading={action.busy} onClick={() => void rename()}>
              Save
            </Button>
            <Button onClick={() => setName(undefined)}>Cancel</Button>
          </>
        )}
      </Stack>
      {action.error && name === undefined && <Alert severity="error">{action.error}</Alert>}
      {ending && (
        <ConfirmDialog
          title={`Delete ${one.name}?`}
          name={one.name}
          action="Delete for good"
          onStay={() => setEnding(false)}
          send={(confirm) =>
            unwrap(api.POST('/api/classes/{class}/end', { ...ofClass(one.id), body: { confirm } }))
          }
        >
          Every child of this class goes, with all observations, measures and lessons. Instruments stay in the
          store room. It cannot be undone; a child’s record can be taken out under Set-up, Roster, before.
        </ConfirmDialog>
      )}
    </Card>
  );
}
