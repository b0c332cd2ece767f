import Alert from '@mui/material/Alert';
import List from '@mui/material/List';
import ListItem from '@mui/material/ListItem';
import ListItemButton from '@mui/material/ListItemButton';
import ListItemText from '@mui/material/ListItemText';
import { Link, Navigate, useParams } from 'react-router';
import { ApiProblem, type Schemas } from '../../api/client';
import { $api } from '../../api/queries';
import { Loading } from '../../parts/Message';

/** Where the code of a tag leads: to its instrument, in a class of whoever reads it. */
export function TagPage() {
  const { tag = '' } = useParams();
  const found = $api.useQuery('get', '/api/tags/{tag}', { params: { path: { tag } } }, { retry: false });
  if (found.error) {
    const unknown = found.error instanceof ApiProblem && found.error.status === 404;
    return (
      <Alert severity="info" sx={{ m: 2 }}>
        {unknown
          ? `No instrument of your school has the tag ${tag}. Look whether it was given another tag since, or ask the school's owner to let you in.`
          : 'The tag could not be looked up. Look at the connection and read the code again.'}
      </Alert>
    );
  }
  if (!found.data) return <Loading what="The instrument is being looked up" />;
  const [first, ...others] = found.data;
  if (first && others.length === 0) return <Navigate to={pageOf(first)} replace />;
  return (
    <List aria-label={`Instruments with the tag ${tag}`}>
      {found.data.map((instrument) => (
        <ListItem key={instrument.asset} disablePadding>
          <ListItemButton component={Link} to={pageOf(instrument)}>
            <ListItemText primary={tag} secondary={instrument.programName} />
          </ListItemButton>
        </ListItem>
      ))}
    </List>
  );
}

function pageOf({ class: classId, asset }: Schemas['TaggedInstrument']): string {
  return `/class/${classId}/set-up/instruments/${asset}`;
}
