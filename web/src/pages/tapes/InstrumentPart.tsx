import Stack from '@mui/material/Stack';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useState, type ReactNode } from 'react';
import { Link, matchPath, useNavigate, useParams } from 'react-router';
import type { BenchInstrument, TapePage } from '../../api/client';
import { $api, ofClass } from '../../api/queries';
import { useMarkersNow } from '../../offline/tapes';
import { useTapeBox } from '../../offline/useOutbox';
import { Fingerboard } from '../../parts/Fingerboard';
import { useKeys } from '../../parts/keys';
import { Card, FileButton, PageContent, Read } from '../../parts/page';
import { rulerWords, useUnit } from '../../parts/units';
import { NEEDS, TAPE_STATES, colouredName, markerName, troubleWords } from '../../words/markers';
import { recheckWords } from '../../words/room';
import { thinningWords } from '../../words/tapeLog';
import { capital } from '../../words/text';
import { boardLabel, boardMarkers } from './board';
import { EarChecks } from './EarChecks';
import { Found } from './Found';
import { EdgeFields, LengthField, UnitChips } from './Measuring';
import { TapeLog } from './TapeLog';
import { OpenStrings, SoundChips } from './Tones';
import { useWork } from './useWork';

/** One instrument at the bench; the next one that needs something is one key away. */
export function InstrumentPart() {
  const { classId = '', assetId = '' } = useParams();
  const bench = $api.useQuery('get', '/api/classes/{class}/tapes', ofClass(classId));
  const page = $api.useQuery(
    'get',
    '/api/classes/{class}/tapes/{asset}',
    ofClass(classId, { asset: assetId }),
  );
  // What is done to one moves it in the list; the way through the evening stays as it was begun.
  const [order, setOrder] = useState<BenchInstrument[]>();
  if (!order && bench.data) setOrder(bench.data.instruments);
  const { before, after } = neighbours(order ?? [], assetId);
  // Also while the next one is still being drawn: somebody who turns pages does not wait, and the address is ahead.
  const navigate = useNavigate();
  const turn = (way: 'before' | 'after') => () => {
    const address = matchPath('/class/:classId/tapes/bench/:assetId', window.location.pathname);
    const next = neighbours(order ?? [], address?.params.assetId ?? assetId)[way];
    if (next) void navigate(`/class/${classId}/tapes/bench/${next.asset}`);
  };
  useKeys({ '[': turn('before'), ']': turn('after') });
  return (
    <Read query={page} what="The instrument is being fetched">
      {(read) => <Instrument key={assetId} classId={classId} page={read} before={before} after={after} />}
    </Read>
  );
}

/** The instruments before and after: those that need something, and of the rest the list's order. */
function neighbours(order: BenchInstrument[], asset: string) {
  const here = order.findIndex((one) => one.asset === asset);
  const at = (index: number) => (here < 0 ? undefined : order[index]);
  return { before: at(here - 1), after: at(here + 1) };
}

function Instrument({
  classId,
  page: answer,
  before,
  after,
}: {
  classId: string;
  page: TapePage;
  before: BenchInstrument | undefined;
  after: BenchInstrument | undefined;
}) {
  const [unit] = useUnit();
  const { pending } = useTapeBox();
  const { spots, positions } = useMarkersNow(answer);
  const page = { ...answer, positions };
  const { log, undo } = useWork(classId, page.asset, page.tag);
  const base = `/class/${classId}/tapes/bench`;
  const template = `/api/classes/${classId}/tapes/templates.pdf?assets=${page.asset}`;
  const part = { page, spots, log };
  return (
    <PageContent
      name="One instrument"
      bar={
        <>
          <Button component={Link} to={base}>
            All instruments
          </Button>
          <Typography variant="h2">
            {page.tag}, {page.instrument} {page.size}
          </Typography>
          <Typography>{page.child?.name ?? 'free'}</Typography>
          <Box sx={{ flex: 1 }} />
          <UnitChips />
          {before && (
            <Button
              variant="outlined"
              component={Link}
              to={`${base}/${before.asset}`}
              aria-keyshortcuts="["
              aria-label={`Previous: ${before.tag}`}
            >
              [ {before.tag}
            </Button>
          )}
          {after && (
            <Button
              variant="contained"
              component={Link}
              to={`${base}/${after.asset}`}
              aria-keyshortcuts="]"
              aria-label={`Next: ${after.tag}`}
            >
              {after.tag} ]
            </Button>
          )}
        </>
      }
    >
      <Box
        sx={{
          display: 'grid',
          gap: 2,
          alignItems: 'start',
          gridTemplateColumns: { xs: 'minmax(0, 1fr)', md: 'minmax(340px, 430px) minmax(0, 1fr)' },
        }}
      >
        {/* Beside what is measured and heard, wherever one is in it. */}
        <Box sx={{ display: 'grid', gap: 2, position: { md: 'sticky' }, top: 0 }}>
          <Card aria-label="Fingerboard">
            <State page={page} />
            <Fingerboard
              instrument={page.instrument}
              lengthMm={page.stringLengthMm ?? page.usualLengthMm}
              strings={page.openStrings.map(({ note }) => note)}
              stripMm={page.settings.stripMm}
              markers={boardMarkers(page, spots, unit)}
              kind={page.markers.kind}
              thumbMm={page.thumbMm}
              thumbOn={spots.some(({ spot, presence }) => spot === 'thumb' && presence === 'on')}
              label={boardLabel(page, spots, unit)}
            />
            <Typography sx={{ color: 'text.secondary', mt: 1 }}>
              {page.stringLengthMm === undefined
                ? `Drawn for ${rulerWords(page.usualLengthMm, unit)}, usual for a ${page.instrument} ${page.size}: measure it.`
                : `String ${rulerWords(page.stringLengthMm, unit)}.`}{' '}
              The numbers are where the nut’s side of each marker goes; a broken outline is where it belongs.
            </Typography>
          </Card>
          <Part title="Templates and placing">
            <Stack direction="row" spacing={1} sx={{ flexWrap: 'wrap' }}>
              <Button component={Link} to={`${base}/${page.asset}/place`} variant="contained">
                Lay it step by step
              </Button>
              {page.stringLengthMm !== undefined && page.markers.kind !== 'none' && (
                <>
                  <FileButton href={template}>Template, A4</FileButton>
                  <FileButton href={`${template}&paper=letter`}>Template, Letter</FileButton>
                  <FileButton href={`${template.replace('.pdf', '.svg')}&alone=true`}>
                    Template, SVG
                  </FileButton>
                </>
              )}
            </Stack>
          </Part>
        </Box>
        <Box sx={{ display: 'grid', gap: 2 }}>
          <Part title="Measure">
            <LengthField page={page} log={log} />
            <EdgeFields {...part} />
          </Part>
          <Part title="Hear" bar={<SoundChips />}>
            <OpenStrings strings={page.openStrings} />
            <EarChecks {...part} />
          </Part>
          <Part title="What was found, what was done">
            <Found {...part} />
          </Part>
          <Part title="Taking markers away">
            <Typography>{thinningWords(page.thinning)}</Typography>
            <Thin {...part} />
          </Part>
          <Part title="Log">
            <TapeLog page={page} pending={pending} onUndo={undo} />
          </Part>
        </Box>
      </Box>
    </PageContent>
  );
}

function Thin({ page, spots, log }: Pick<Parameters<typeof Found>[0], 'page' | 'spots' | 'log'>) {
  const next = spots.find(({ spot, presence }) => spot === page.thinning.next && presence === 'on');
  const taken = spots.filter(({ presence }) => presence === 'taken');
  const on = spots.filter(({ presence }) => presence === 'on' || presence === 'loose');
  return (
    <Stack direction="row" spacing={1} sx={{ flexWrap: 'wrap' }}>
      {next && (
        <Button
          variant="contained"
          onClick={() => log({ kind: 'thinned', spots: [next.spot] }, `${markerName(next.spot)} taken away`)}
        >
          Take marker {colouredName(next.spot, page.markers)} away
        </Button>
      )}
      {on.length > 0 && (
        <Button variant="outlined" onClick={() => log({ kind: 'bare' }, 'every marker taken away')}>
          Take every marker away
        </Button>
      )}
      {taken.map(({ spot }) => (
        <Button
          key={spot}
          variant="outlined"
          onClick={() => log({ kind: 'back', spots: [spot] }, `${markerName(spot)} on again`)}
        >
          Marker {markerName(spot)} on again
        </Button>
      ))}
    </Stack>
  );
}

function State({ page }: { page: TapePage }) {
  const { state, trouble, recheck, need } = page;
  return (
    <Box sx={{ mb: 1 }}>
      <Typography variant="h3" sx={{ color: trouble ? 'error.main' : 'text.primary' }}>
        {capital(trouble ? troubleWords(page) : TAPE_STATES[state])}
      </Typography>
      <Typography sx={{ color: 'text.secondary' }}>
        {need === 'nothing' ? 'Nothing to do now' : `Next: ${NEEDS[need]}`}
        {recheck && `; ${recheckWords(recheck)}`}
      </Typography>
    </Box>
  );
}

function Part({ title, bar, children }: { title: string; bar?: ReactNode; children: ReactNode }) {
  return (
    <Card aria-label={title} sx={{ display: 'grid', gap: 1.5 }}>
      <Stack direction="row" spacing={0.75} sx={{ alignItems: 'center', flexWrap: 'wrap' }}>
        <Typography variant="h3" sx={{ flex: 1 }}>
          {title}
        </Typography>
        {bar}
      </Stack>
      {children}
    </Card>
  );
}
