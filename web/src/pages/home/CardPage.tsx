import Alert from '@mui/material/Alert';
import { Navigate, useParams } from 'react-router';
import { ApiProblem } from '../../api/client';
import { $api } from '../../api/queries';
import { Loading } from '../../parts/Message';

/** Where the code of a family card leads: to what came back of its child, in the class that it is in now. */
export function CardPage() {
  const { childId = '' } = useParams();
  const card = $api.useQuery(
    'get',
    '/api/cards/{child}',
    { params: { path: { child: childId } } },
    { retry: false },
  );
  if (card.data) return <Navigate to={`/class/${card.data.class}/home/back?child=${childId}`} replace />;
  if (!card.error) return <Loading what="The card is being looked up" />;
  const unknown = card.error instanceof ApiProblem && card.error.status === 404;
  return (
    <Alert severity="info" sx={{ m: 2 }}>
      {unknown
        ? 'This card is of nobody in your classes. Ask the director of its class.'
        : 'The card could not be looked up. Look at the connection and read the code again.'}
    </Alert>
  );
}
