import Stack from '@mui/material/Stack';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useState, type ReactNode } from 'react';
import { Link, useParams } from 'react-router';
import type { TapePage, TapeSpot } from '../../api/client';
import { $api, ofClass } from '../../api/queries';
import { useMarkersNow } from '../../offline/tapes';
import { OneOf } from '../../parts/OneOf';
import { Callout, Card, PageContent, Read } from '../../parts/page';
import { rulerWords, useUnit, type Unit } from '../../parts/units';
import { markerName } from '../../words/markers';
import { EarCheck } from './EarChecks';
import { LengthField, UnitChips } from './Measuring';
import { OpenStrings, SoundChips } from './Tones';
import { useWork } from './useWork';
import { LayOne } from './LayOne';

/** Beside the instrument: tuned, the first marker by the octave or unison that can be heard, then from observation to marker. */
export function PlacingPart() {
  const { classId = '', assetId = '' } = useParams();
  const page = $api.useQuery(
    'get',
    '/api/classes/{class}/tapes/{asset}',
    ofClass(classId, { asset: assetId }),
  );
  return (
    <Read query={page} what="The instrument is being fetched">
      {(read) => <Placing key={assetId} classId={classId} page={read} />}
    </Read>
  );
}

function Placing({ classId, page }: { classId: string; page: TapePage }) {
  const { log } = useWork(classId, page.asset, page.tag);
  const [unit] = useUnit();
  const [step, setStep] = useState(0);
  const [ruler, setRuler] = useState(true);
  const { spots, positions } = useMarkersNow(page);
  const markers = page.placingOrder.flatMap((finger) => {
    const position = positions.find((one) => one.finger === finger);
    const spot = spots.find((one) => one.spot === finger);
    return position && spot ? [{ position, spot }] : [];
  });
  const thumb = spots.find(({ spot, wanted }) => spot === 'thumb' && wanted);
  const line = spots.find(({ spot, wanted }) => spot === 'line' && wanted);
  const extra = [thumb, line].filter((spot) => spot !== undefined);
  const last = 1 + markers.length + (extra.length > 0 ? 1 : 0);
  const base = `/class/${classId}/tapes/bench/${page.asset}`;
  const current = markers[step - 1];
  const laid = markers.slice(0, Math.max(0, step - 1)).filter(({ spot }) => spot.presence === 'on');
  return (
    <PageContent
      name="Laid step by step"
      bar={
        <>
          <Button component={Link} to={base}>
            {page.tag}
          </Button>
          <Typography variant="h2" sx={{ flex: 1, whiteSpace: 'nowrap' }}>
            Step by step
          </Typography>
          <OneOf
            name="How"
            value={ruler ? 'ruler' : 'fingers'}
            options={[
              ['ruler', 'With a ruler'],
              ['fingers', 'Without'],
            ]}
            onChoose={(how) => setRuler(how === 'ruler')}
          />
          <UnitChips />
          <SoundChips />
        </>
      }
    >
      <Card aria-label={`Step ${step + 1} of ${last + 1}`} sx={{ display: 'grid', gap: 2, maxWidth: 720 }}>
        <Typography sx={{ color: 'text.secondary' }}>
          {page.instrument} {page.size}, step {step + 1} of {last + 1}
        </Typography>
        {markers.length === 0 ? (
          <Typography>
            The class has no markers, by choice. Approach, Markers on the fingerboard, changes that.
          </Typography>
        ) : step === 0 ? (
          <Tune page={page} ruler={ruler}>
            {ruler && <LengthField page={page} log={log} />}
          </Tune>
        ) : current ? (
          <>
            <LayOne page={page} position={current.position} laid={laid} ruler={ruler} unit={unit} />
            <Button
              variant={current.spot.presence === 'on' ? 'outlined' : 'contained'}
              size="large"
              sx={{ justifySelf: 'start' }}
              onClick={() =>
                log(
                  { kind: 'placed', spots: [current.position.finger] },
                  `laid ${markerName(current.spot.spot)}`,
                )
              }
            >
              {current.spot.presence === 'on'
                ? `Marker ${markerName(current.spot.spot)} laid anew`
                : `Marker ${markerName(current.spot.spot)} is on`}
            </Button>
            <Typography variant="h3">Hear it</Typography>
            <EarCheck page={page} spots={spots} position={current.position} spot={current.spot} log={log} />
            {current.spot.verdict === 'move' && (
              <Typography sx={{ color: 'error.main' }}>
                Move it a little and hear it again: towards the {moveTo(current.spot)}.
              </Typography>
            )}
          </>
        ) : step === 1 + markers.length && extra.length > 0 ? (
          <Extras
            page={page}
            extra={extra}
            unit={unit}
            onLaid={(spot) => log({ kind: 'placed', spots: [spot.spot] }, `laid ${markerName(spot.spot)}`)}
          />
        ) : (
          <Done markers={markers.map(({ spot }) => spot)} />
        )}
        {markers.length > 0 && (
          <Stack direction="row" spacing={1}>
            <Button variant="outlined" size="large" disabled={step === 0} onClick={() => setStep(step - 1)}>
              Back
            </Button>
            {step < last ? (
              <Button variant="contained" size="large" onClick={() => setStep(step + 1)}>
                {nextWords(step, markers)}
              </Button>
            ) : (
              <Button variant="contained" size="large" component={Link} to={base}>
                Done
              </Button>
            )}
          </Stack>
        )}
      </Card>
    </PageContent>
  );
}

function moveTo(spot: TapeSpot): string {
  if (spot.cents === undefined) return 'nut where it was high, the bridge where it was low';
  return spot.cents > 0 ? 'nut' : 'bridge';
}

function nextWords(step: number, markers: { spot: TapeSpot }[]): string {
  const next = markers[step];
  return next ? `Next: marker ${markerName(next.spot.spot)}` : 'Next';
}

function Tune({ page, ruler, children }: { page: TapePage; ruler: boolean; children: ReactNode }) {
  return (
    <>
      <Typography variant="h3">Tune first</Typography>
      <Typography>
        Every marker is heard against the open strings, so they come first
        {ruler
          ? '; then the string is measured, from the nut’s edge to the bridge.'
          : '. No ruler: the ear finds each position.'}
      </Typography>
      <OpenStrings strings={page.openStrings} />
      <Callout>
        {page.instrument === 'bass'
          ? 'Geared machines are never pushed in. Keep the face away from a string that is tuned up; a heavy bass is held by two.'
          : 'Push the peg in while it turns, and keep the face away: a string can snap when it is tuned up.'}
      </Callout>
      {children}
    </>
  );
}

function Extras({
  page,
  extra,
  unit,
  onLaid,
}: {
  page: TapePage;
  extra: TapeSpot[];
  unit: Unit;
  onLaid: (spot: TapeSpot) => void;
}) {
  return (
    <>
      <Typography variant="h3">What goes with it</Typography>
      {extra.map((spot) => (
        <Box key={spot.spot} sx={{ display: 'grid', gap: 1 }}>
          <Typography>
            {spot.spot === 'thumb' && page.thumbMm !== undefined
              ? `Thumb pad: under the neck, its middle ${rulerWords(page.thumbMm, unit)} from the nut’s edge.`
              : 'Line at the base of the child’s first finger, level with the edge of the fingerboard. Ask first; it washes off.'}
          </Typography>
          <Button variant="contained" sx={{ justifySelf: 'start' }} onClick={() => onLaid(spot)}>
            {spot.presence === 'on' ? `Anew: ${markerName(spot.spot)}` : `Done: ${markerName(spot.spot)}`}
          </Button>
        </Box>
      ))}
      <Callout>Glue can irritate skin and varnish: try it where nobody sees it.</Callout>
    </>
  );
}

function Done({ markers }: { markers: TapeSpot[] }) {
  const left = markers.filter(({ proved }) => !proved);
  return (
    <>
      <Typography variant="h3">
        {left.length === 0 ? 'Every marker is on and proved by ear.' : 'Not proved yet'}
      </Typography>
      {left.length > 0 && (
        <Typography>
          {left.map(({ spot }) => `marker ${markerName(spot)}`).join(', ')}: go back to hear, or leave it for
          another evening. It stays on the bench until it was heard.
        </Typography>
      )}
    </>
  );
}
