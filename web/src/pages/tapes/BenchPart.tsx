import Stack from '@mui/material/Stack';
import Box from '@mui/material/Box';
import TableBody from '@mui/material/TableBody';
import Table from '@mui/material/Table';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { Link, useParams } from 'react-router';
import type { BenchInstrument, Instrument, Schemas } from '../../api/client';
import { $api, ofClass } from '../../api/queries';
import { Toggle } from '../../parts/Toggle';
import { InstrumentChips } from '../../parts/InstrumentChips';
import { PageContent, Read } from '../../parts/page';
import { Tuning } from '../../parts/Tuning';
import { rulerWords, useUnit } from '../../parts/units';
import { NEEDS, TAPE_STATES, troubleWords } from '../../words/markers';
import { recheckWords } from '../../words/room';
import { capital, count } from '../../words/text';

/** In the order of how pressing it is. */
const ORDER = Object.keys(NEEDS) as Schemas['MarkerNeed'][];

function stateWords(instrument: BenchInstrument): string {
  const { trouble, state, recheck } = instrument;
  if (trouble) return troubleWords(instrument);
  const due =
    recheck && (recheck.state !== 'fresh' || recheck.meetings < 5) ? `, ${recheckWords(recheck)}` : '';
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
      {({ instruments, without, markers, tuning }) => {
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
                <Stack
                  direction="row"
                  spacing={0.75}
                  role="group"
                  aria-label="Show"
                  sx={{ flexWrap: 'wrap' }}
                >
                  <InstrumentChips only={kind} onOnly={setKind} />
                  <Toggle on={free} onClick={() => setFree(!free)}>
                    Free in the store room
                  </Toggle>
                </Stack>
                <Typography sx={{ color: 'text.secondary' }}>
                  {count(work.length, 'instrument')} of {shown.length} to work on
                </Typography>
              </>
            }
          >
            <Box component="details" sx={{ mb: 1 }}>
              <Box component="summary" sx={{ lineHeight: '44px', cursor: 'pointer' }}>
                Tune first: tones, and which way to turn
              </Box>
              <Tuning tuning={tuning} />
            </Box>
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
                <TableHead>
                  <TableRow>
                    <TableCell scope="col">Tag</TableCell>
                    <TableCell scope="col">Instrument</TableCell>
                    <TableCell scope="col">Who has it</TableCell>
                    <TableCell scope="col" align="right" className="wide">
                      String
                    </TableCell>
                    <TableCell scope="col">How its markers are</TableCell>
                  </TableRow>
                </TableHead>
                {ORDER.map((need) => {
                  const rows = shown.filter((one) => one.need === need);
                  return rows.length === 0 ? null : (
                    <TableBody key={need}>
                      <TableRow>
                        <TableCell
                          component="th"
                          scope="colgroup"
                          colSpan={5}
                          style={{ position: 'static', paddingTop: 14 }}
                        >{`${capital(NEEDS[need])} (${rows.length})`}</TableCell>
                      </TableRow>
                      {rows.map((one) => (
                        <TableRow key={one.asset}>
                          <TableCell>
                            <Button
                              component={Link}
                              to={`${base}/${one.asset}`}
                              sx={{ px: 1, ml: -1, fontWeight: 600, justifyContent: 'flex-start' }}
                            >
                              {one.tag}
                            </Button>
                          </TableCell>
                          <TableCell>
                            {one.instrument} {one.size}
                          </TableCell>
                          <TableCell>{one.child?.name ?? 'free'}</TableCell>
                          <TableCell align="right" className="wide">
                            {one.stringLengthMm === undefined
                              ? 'not measured'
                              : rulerWords(one.stringLengthMm, unit)}
                          </TableCell>
                          <TableCell>{stateWords(one)}</TableCell>
                        </TableRow>
                      ))}
                    </TableBody>
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
