import visuallyHidden from '@mui/utils/visuallyHidden';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { Link, useParams } from 'react-router';
import { api, unwrap, type Schemas } from '../../api/client';
import { $api, ofClass } from '../../api/queries';
import { Toggle } from '../../parts/Toggle';
import { pairWords, withoutWords } from '../../words/reasons';
import { count } from '../../words/text';
import { Read, PageContent } from '../../parts/page';
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
              <Alert severity="error" sx={{ mb: 1 }}>
                {action.error}
              </Alert>
            )}
            {pairs.length + without.length === 0 && (
              <Typography sx={{ py: 3 }}>Nobody is in this class yet: begin with the roster.</Typography>
            )}
            {pairs.length + without.length > 0 && (
              <Table>
                <TableHead>
                  <TableRow>
                    <TableCell scope="col">Child</TableCell>
                    <TableCell scope="col">Instrument</TableCell>
                    <TableCell scope="col" className="wide">
                      Tag
                    </TableCell>
                    <TableCell scope="col">Why</TableCell>
                    <TableCell scope="col">
                      <span style={visuallyHidden}>What to do</span>
                    </TableCell>
                  </TableRow>
                </TableHead>
                <TableBody>
                  {without.map((one) => (
                    <TableRow key={one.child}>
                      <TableCell>
                        <strong>{one.name}</strong>
                      </TableCell>
                      <TableCell>{one.instrument}</TableCell>
                      <TableCell className="wide">–</TableCell>
                      <TableCell>{withoutWords(one)}</TableCell>
                      <TableCell />
                    </TableRow>
                  ))}
                  {pairs.map((pair) => (
                    <TableRow key={pair.child} className={pair.present ? 'quiet' : undefined}>
                      <TableCell>
                        <strong>{pair.name}</strong>
                      </TableCell>
                      <TableCell>
                        {pair.instrument} {pair.size}
                      </TableCell>
                      <TableCell className="wide" sx={{ whiteSpace: 'nowrap' }}>
                        {pair.tag}
                      </TableCell>
                      <TableCell>{pairWords(pair)}</TableCell>
                      <TableCell>
                        {director &&
                          (pair.present ? (
                            <Toggle
                              on={pair.locked}
                              onClick={() => keep(pair)}
                              aria-label={`Keep ${pair.tag} with ${pair.name}`}
                            >
                              Keep
                            </Toggle>
                          ) : (
                            <Button
                              variant="outlined"
                              aria-label={`Give ${pair.tag} to ${pair.name}`}
                              onClick={() => accept([pair])}
                            >
                              Give out
                            </Button>
                          ))}
                      </TableCell>
                    </TableRow>
                  ))}
                </TableBody>
              </Table>
            )}
          </PageContent>
        );
      }}
    </Read>
  );
}
