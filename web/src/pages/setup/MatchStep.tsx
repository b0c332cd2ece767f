import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { Link, useParams } from 'react-router';
import { api, unwrap, type Schemas } from '../../api/client';
import { $api, ofClass } from '../../api/queries';
import { Chip } from '../../parts/Chip';
import { count } from '../../words';
import { Read, PageContent, Table } from '../../parts/page';
import { useDirector } from '../../parts/useDirector';
import { useAction } from '../../parts/useAction';

/** The class matched to the store room: all of it at once, or pair by pair. */
export function MatchStep() {
  const { classId = '' } = useParams();
  const match = $api.useQuery('get', '/api/classes/{class}/match', ofClass(classId));
  const director = useDirector(classId);
  const action = useAction(classId);
  const path = { class: classId };
  const accept = (pairs: Schemas['PairView'][]) =>
    void action.run(() =>
      unwrap(
        api.POST('/api/classes/{class}/loans', {
          params: { path },
          body: { pairs: pairs.map(({ child, asset }) => ({ child, asset })) },
        }),
      ),
    );
  const keep = (pair: Schemas['PairView']) =>
    void action.run(() =>
      unwrap(
        api.PUT('/api/classes/{class}/children/{child}/loan', {
          params: { path: { ...path, child: pair.child } },
          body: { locked: !pair.locked },
        }),
      ),
    );
  return (
    <Read query={match} what="The class is being matched">
      {({ pairs, without, shortfall }) => {
        const fresh = pairs.filter(({ present }) => !present);
        return (
          <PageContent
            name="Match"
            bar={
              <>
                {director && (
                  <Button
                    variant="contained"
                    disabled={fresh.length === 0}
                    loading={action.busy}
                    onClick={() => accept(fresh)}
                  >
                    {fresh.length === 0
                      ? 'Every pair is as proposed'
                      : `Give out ${count(fresh.length, 'instrument')}`}
                  </Button>
                )}
                <Typography>
                  {shortfall.length > 0 && (
                    <>
                      Missing:{' '}
                      {shortfall
                        .map(({ instrument, size, count: many }) => `${many} × ${instrument} ${size}`)
                        .join(', ')}
                      . <Link to={`/class/${classId}/set-up/supplies`}>Order list</Link>
                    </>
                  )}
                </Typography>
              </>
            }
          >
            {action.error && (
              <Alert severity="error" variant="outlined" sx={{ mb: 1, color: 'text.primary' }}>
                {action.error}
              </Alert>
            )}
            {pairs.length + without.length === 0 && (
              <Typography sx={{ py: 3 }}>Nobody is in this class yet: begin with the roster.</Typography>
            )}
            {pairs.length + without.length > 0 && (
              <Table>
                <thead>
                  <tr>
                    <th scope="col">Child</th>
                    <th scope="col">Instrument</th>
                    <th scope="col" className="wide">
                      Tag
                    </th>
                    <th scope="col">Why</th>
                    <th scope="col">
                      <span className="visually-hidden">What to do</span>
                    </th>
                  </tr>
                </thead>
                <tbody>
                  {without.map((one) => (
                    <tr key={one.child}>
                      <td>
                        <strong>{one.name}</strong>
                      </td>
                      <td>{one.instrument}</td>
                      <td className="wide">–</td>
                      <td>{one.reason}</td>
                      <td />
                    </tr>
                  ))}
                  {pairs.map((pair) => (
                    <tr key={pair.child} className={pair.present ? 'quiet' : undefined}>
                      <td>
                        <strong>{pair.name}</strong>
                      </td>
                      <td>
                        {pair.instrument} {pair.size}
                      </td>
                      <td className="wide">{pair.tag}</td>
                      <td>{pair.reason}</td>
                      <td>
                        {director &&
                          (pair.present ? (
                            <Chip
                              aria-pressed={pair.locked}
                              onClick={() => keep(pair)}
                              aria-label={`Keep ${pair.tag} with ${pair.name}`}
                            >
                              Keep
                            </Chip>
                          ) : (
                            <Button
                              variant="outlined"
                              aria-label={`Give ${pair.tag} to ${pair.name}`}
                              onClick={() => accept([pair])}
                            >
                              Give out
                            </Button>
                          ))}
                      </td>
                    </tr>
                  ))}
                </tbody>
              </Table>
            )}
          </PageContent>
        );
      }}
    </Read>
  );
}
