import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { api, basedOn, unwrap } from '../../api/client';
import { $api, ofClass } from '../../api/queries';
import { useAction } from '../../parts/useAction';
import { useDirector } from '../../parts/useDirector';
import { count } from '../../words/text';

interface Props {
  classId: string;
  minutes: number;
  keepsUp: boolean;
}

/** Whether the class's rhythm can be kept with so many minutes, and if not the least stretch that can, to take with one tap. */
export function RhythmAhead({ classId, minutes, keepsUp }: Props) {
  if (keepsUp)
    return (
      <Alert severity="success">
        With {count(minutes, 'minute')} a meeting the rhythm can be kept: what stands is looked at in time.
      </Alert>
    );
  return <Stretch classId={classId} minutes={minutes} />;
}

function Stretch({ classId, minutes }: Omit<Props, 'keepsUp'>) {
  const director = useDirector(classId);
  const action = useAction(classId);
  const rhythm = $api.useQuery('get', '/api/classes/{class}/rhythm', ofClass(classId));
  const kept = $api.useQuery(
    'get',
    '/api/classes/{class}/forecast/rhythm',
    { params: { path: { class: classId }, query: { minutes } } },
    { staleTime: 60_000 },
  );
  const to = kept.data?.stretched;
  const now = rhythm.data?.now;
  const take = () =>
    action.run(() =>
      unwrap(
        api.PUT('/api/classes/{class}/rhythm', {
          params: { path: { class: classId } },
          headers: basedOn(rhythm.data?.version),
          body: { ...(now ?? missing()), ...to },
        }),
      ),
    );
  const few = `${count(minutes, 'minute')} a meeting are few for this rhythm: some looks come more than two meetings late.`;
  return (
    <Alert severity="info">
      <Typography>{few}</Typography>
      {kept.isFetching && <Typography>Which rhythm could be kept is being looked for.</Typography>}
      {to && now && (
        <Typography>
          It can be kept when what stands at Alone is looked at after {count(to.alone, 'meeting')} instead of{' '}
          {now.alone}, what is Lasting after {to.lasting} instead of {now.lasting}, and after {to.longest} at
          the latest.
        </Typography>
      )}
      {kept.data && !kept.data.keepsUp && !to && (
        <Typography>No longer rhythm mends that: more minutes do.</Typography>
      )}
      {to && now && director && (
        <Button variant="outlined" loading={action.busy} sx={{ mt: 1 }} onClick={() => void take()}>
          Take this rhythm
        </Button>
      )}
      {action.error && <Typography role="alert">{action.error}</Typography>}
    </Alert>
  );
}

function missing(): never {
  throw new Error('the rhythm is read before it can be taken');
}
