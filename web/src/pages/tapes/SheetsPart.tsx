import Stack from '@mui/material/Stack';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import FormControlLabel from '@mui/material/FormControlLabel';
import Switch from '@mui/material/Switch';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { Link, useParams } from 'react-router';
import type { BenchInstrument, TemplateWishes } from '../../api/client';
import { $api, ofClass } from '../../api/queries';
import { OneOf } from '../../parts/OneOf';
import { FileButton, PageContent, Read } from '../../parts/page';
import { MARKER_KINDS, NO_TEMPLATE } from '../../words/markers';
import { count } from '../../words/text';

/** Which instruments get a strip. */
const WHICH: [name: string, keeps: (one: BenchInstrument) => boolean][] = [
  ['The whole class', ({ child }) => child !== undefined],
  [
    'Those to be laid',
    ({ child, need }) => child !== undefined && ['place', 'layAgain', 'moveMarkers'].includes(need),
  ],
  ['Free ones too', () => true],
];

/** Strips at true scale for as many instruments as are wanted, on as few sheets as will do. */
export function SheetsPart() {
  const { classId = '' } = useParams();
  const bench = $api.useQuery('get', '/api/classes/{class}/tapes', ofClass(classId));
  return (
    <Read query={bench} what="Strips are being counted">
      {({ instruments, markers }) =>
        markers.kind === 'none' ? (
          <PageContent name="Templates">
            <Typography sx={{ maxWidth: 520, py: 3 }}>
              The class has no markers, by choice, so there is nothing to print.
            </Typography>
          </PageContent>
        ) : (
          <Sheets classId={classId} instruments={instruments} marker={MARKER_KINDS[markers.kind]} />
        )
      }
    </Read>
  );
}

function Sheets({
  classId,
  instruments,
  marker,
}: {
  classId: string;
  instruments: BenchInstrument[];
  marker: string;
}) {
  const [which, setWhich] = useState(0);
  const [paper, setPaper] = useState<NonNullable<TemplateWishes['paper']>>('a4');
  const [backs, setBacks] = useState(false);
  const [unmeasured, setUnmeasured] = useState(false);
  const [page, setPage] = useState(0);
  const wanted = instruments.filter(WHICH[which]?.[1] ?? (() => true));
  const assets = which === 0 ? undefined : wanted.map(({ asset }) => asset).join(',');
  const wishes: TemplateWishes = { paper, backs, unmeasured, ...(assets !== undefined && { assets }) };
  const sheets = $api.useQuery('get', '/api/classes/{class}/tapes/sheets', {
    params: { path: { class: classId }, query: wishes },
  });
  const query = new URLSearchParams(Object.entries(wishes).map(([key, value]) => [key, String(value)]));
  const file = (name: string, at?: number) =>
    `/api/classes/${classId}/tapes/${name}?${query.toString()}${at === undefined ? '' : `&page=${at}`}`;
  const begin =
    <T,>(set: (value: T) => void) =>
    (value: T) => {
      set(value);
      setPage(0);
    };
  const toPaper = begin(setPaper);
  return (
    <Read query={sheets} what="Strips are being laid out">
      {(counted) => {
        const shown = Math.min(page, Math.max(0, counted.sheets - 1));
        return (
          <PageContent
            name="Templates"
            bar={
              <>
                <OneOf
                  name="Which"
                  value={String(which)}
                  options={WHICH.map(([name], index) => [String(index), name] as const)}
                  onChoose={(index) => begin(setWhich)(Number(index))}
                />
                <OneOf
                  name="Paper"
                  value={paper}
                  options={[
                    ['a4', 'A4'],
                    ['letter', 'Letter'],
                  ]}
                  onChoose={toPaper}
                />
                <FormControlLabel
                  control={<Switch checked={backs} onChange={(_, on) => begin(setBacks)(on)} />}
                  label="Spots for the back of the neck"
                />
                <FormControlLabel
                  control={<Switch checked={unmeasured} onChange={(_, on) => begin(setUnmeasured)(on)} />}
                  label="Unmeasured ones by their size"
                />
              </>
            }
          >
            <Box
              sx={{
                display: 'grid',
                gap: 3,
                alignItems: 'start',
                gridTemplateColumns: { xs: 'minmax(0, 1fr)', md: 'minmax(0, 520px) minmax(260px, 1fr)' },
              }}
            >
              {counted.sheets === 0 ? (
                <Typography>No strip to print: none of these is measured yet, or none is wanted.</Typography>
              ) : (
                <Box
                  component="img"
                  src={file('templates.svg', shown)}
                  alt={`Sheet ${shown + 1} of ${counted.sheets}: strips with the position of each ${marker}`}
                  // Paper is white in any theme.
                  sx={{
                    display: 'block',
                    width: '100%',
                    height: 'auto',
                    bgcolor: 'common.white',
                    border: 1,
                    borderColor: 'divider',
                  }}
                />
              )}
              <Box sx={{ display: 'grid', gap: 1.5 }}>
                <Typography variant="h3" component="h2">
                  {count(counted.strips, 'strip')} on {count(counted.sheets, 'sheet')}
                </Typography>
                {counted.sheets > 1 && (
                  <Stack direction="row" spacing={1} sx={{ alignItems: 'center' }}>
                    <Button variant="outlined" disabled={shown === 0} onClick={() => setPage(shown - 1)}>
                      Sheet before
                    </Button>
                    <Typography>
                      {shown + 1} of {counted.sheets}
                    </Typography>
                    <Button
                      variant="outlined"
                      disabled={shown + 1 >= counted.sheets}
                      onClick={() => setPage(shown + 1)}
                    >
                      Sheet after
                    </Button>
                  </Stack>
                )}
                {counted.sheets > 0 && (
                  <Stack direction="row" spacing={1} sx={{ flexWrap: 'wrap' }}>
                    <FileButton href={file('templates.pdf')}>Save as PDF</FileButton>
                    <FileButton href={file('templates.svg', shown)}>This sheet as SVG</FileButton>
                  </Stack>
                )}
                <Typography>
                  Print at 100 %, never “fit to page”. The ruler on each strip is 100 mm long: lay a real one
                  beside it before you cut. Hold the strip with its upper line at the nut’s edge.
                </Typography>
                {counted.leftOut.length > 0 && (
                  <>
                    <Typography variant="h3" component="h2">
                      Not on the sheets
                    </Typography>
                    <Box component="ul" sx={{ m: 0, pl: 2.5 }}>
                      {counted.leftOut.map(({ asset, tag, why }) => (
                        <li key={asset}>
                          <Link to={`/class/${classId}/tapes/bench/${asset}`}>{tag}</Link>: {NO_TEMPLATE[why]}
                        </li>
                      ))}
                    </Box>
                  </>
                )}
              </Box>
            </Box>
          </PageContent>
        );
      }}
    </Read>
  );
}
