import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { Link, useParams } from 'react-router';
import type { BenchInstrument, Instrument, Schemas } from '../../api/client';
import { $api, ofClass } from '../../api/queries';
import { Chip } from '../../parts/Chip';
import { InstrumentChips } from '../../parts/InstrumentChips';
import { PageContent, Read, Table } from '../../parts/page';
import { rulerWords, useUnit } from '../../parts/units';
import { capital, count, isDue, NEEDS, recheckWords, TAPE_STATES, troubleWords } from '../../words';

/** In the order of how pressing it is. */
const ORDER = Object.keys(NEEDS) as Schemas['MarkerNeed'][];

function stateWords(instrument: BenchInstrument): string {
  const { trouble, state, recheck } = instrument;
  if (trouble) return troubleWords(instrument);
  const due = recheck && (isDue(recheck) || recheck.meetings < 5) ? `, ${recheckWords(recheck)}` : '';
  return `${TAPE_STATES[state]}${due}`;
}

/** An evening's work: the instruments of the class by what their markers need. */
export function BenchPart() {
  const { classId = '' } = useParams();
  const bench = $api.useQuery('get', '/api/classes/{class}/tapes', ofClass(classId));
  const [unit] = useUnit();
  const [kind, setKind] = useState<Instrument>();
  const [free, setFree] = useState(false);
  const base = `/class/${classId}/tapes/bench`;
  return (
    <Read query={bench} what="The bench is being laid out">
      {({ instruments, without, markers }) => {
        const shown = instruments.filter(
          ({ instrument, child }) =>
            (kind === undefined || instrument === kind) && (child === undefined) === free,
        );
        const work = shown.filter(({ need }) => need !== 'nothing');
        const first = work[0];
        return (
          <PageContent
            name="Bench"
            bar={
              <>
                {first && (
                  <Button component={Link} to={`${base}/${first.asset}`} variant="contained">
                    Begin with {first.tag}
                  </Button>
                )}
                <Box role="group" aria-label="Show" sx={{ display: 'flex', flexWrap: 'wrap', gap: 0.75 }}>
                  <InstrumentChips only={kind} onOnly={setKind} />
                  <Chip aria-pressed={free} onClick={() => setFree(!free)}>
                    Free in the store room
                  </Chip>
                </Box>
                <Typography sx={{ color: 'text.secondary' }}>
                  {count(work.length, 'instrument')} of {shown.length} to work on
                </Typography>
              </>
            }
          >
            {markers.kind === 'none' && (
              <Typography sx={{ maxWidth: 620, mb: 2 }}>
                The class has no markers, by choice: every fourth string is bright and nothing waits for
                tapes. Approach, Markers on the fingerboard, changes that.
              </Typography>
            )}
            {instruments.length === 0 ? (
              <Typography sx={{ maxWidth: 520, py: 3 }}>
                Markers belong to instruments. Add the class’s instruments under{' '}
                <Link to={`/class/${classId}/set-up/instruments`}>Set-up, Instruments</Link> and match them,
                then come back.
              </Typography>
            ) : (
              <Table>
                <thead>
                  <tr>
                    <th scope="col">Tag</th>
                    <th scope="col">Instrument</th>
                    <th scope="col">Who has it</th>
                    <th scope="col" className="number wide">
                      String
                    </th>
                    <th scope="col">How its markers are</th>
                  </tr>
                </thead>
                {ORDER.map((need) => {
                  const rows = shown.filter((one) => one.need === need);
                  return rows.length === 0 ? null : (
                    <tbody key={need}>
                      <tr>
                        <th
                          scope="colgroup"
                          colSpan={5}
                          style={{ position: 'static', paddingTop: 14 }}
                        >{`${capital(NEEDS[need])} (${rows.length})`}</th>
                      </tr>
                      {rows.map((one) => (
                        <tr key={one.asset}>
                          <td>
                            <Button
                              component={Link}
                              to={`${base}/${one.asset}`}
                              sx={{ px: 1, ml: -1, fontWeight: 600, justifyContent: 'flex-start' }}
                            >
                              {one.tag}
                            </Button>
                          </td>
                          <td>
                            {one.instrument} {one.size}
                          </td>
                          <td>{one.child?.name ?? 'free'}</td>
                          <td className="number wide">
                            {one.stringLengthMm === undefined
                              ? 'not measured'
                              : rulerWords(one.stringLengthMm, unit)}
                          </td>
                          <td>{stateWords(one)}</td>
                        </tr>
                      ))}
                    </tbody>
                  );
                })}
              </Table>
            )}
            {!free && without.length > 0 && (
              <Typography sx={{ mt: 2 }}>
                No instrument on record: {without.map(({ name }) => name).join(', ')}.{' '}
                <Link to={`/class/${classId}/set-up/match`}>Match them</Link>, or add their own instruments.
              </Typography>
            )}
          </PageContent>
        );
      }}
    </Read>
  );
}
