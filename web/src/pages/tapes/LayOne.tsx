import Typography from '@mui/material/Typography';
import type { MarkerSettings, Marker, TapePage, TapeSpot } from '../../api/client';
import { rulerWords, type Unit } from '../../parts/units';
import { colouredName, fingerWords, MARKER_KINDS } from '../../words/markers';
import { stepWords } from './proofs';

export const ALIGNED: Record<MarkerSettings['align'], string> = {
  nutEdge: 'its nut side on the line',
  middle: 'its middle on the line',
  bridgeEdge: 'its bridge side on the line',
};

/** Where a finger goes when there is no ruler at hand. */
export function widthWords(page: TapePage, position: Marker): string {
  const high = page.instrument === 'violin' || page.instrument === 'viola';
  const words: Record<string, string> = high
    ? {
        '1': 'about two finger-widths from the nut',
        low2: 'about one finger-width beyond marker 1',
        '2': 'about two finger-widths beyond marker 1',
        '3': 'about three finger-widths beyond marker 1',
        high3: 'about one finger-width beyond marker 3',
        '4': 'one and a half to two finger-widths beyond marker 3',
        low1: 'about one finger-width from the nut',
      }
    : {
        // The hand on cello and bass is spaced evenly: each space is a semitone, whether or not its marker is laid.
        '1': 'about three finger spaces from the nut; then the ear: a whole tone above the open string',
        low1: 'one finger space back from where 1 belongs',
        '2': 'one finger space beyond where 1 belongs',
        x2: 'two finger spaces beyond where 1 belongs',
        '3': 'two finger spaces beyond where 1 belongs',
        '4':
          page.instrument === 'bass'
            ? 'two finger spaces beyond where 1 belongs, 3 helping'
            : 'three finger spaces beyond where 1 belongs',
        x4: 'four finger spaces beyond where 1 belongs',
      };
  return words[position.finger] ?? 'by ear';
}

interface LayProps {
  page: TapePage;
  position: Marker;
  laid: { position: Marker; spot: TapeSpot }[];
  ruler: boolean;
  unit: Unit;
}

/** Where one marker goes: from the nut, and from the nearest marker that is there. */
export function LayOne({ page, position, laid, ruler, unit }: LayProps) {
  const { settings, markers } = page;
  const from = laid.toSorted(
    (a, b) =>
      Math.abs(position.semitones - a.position.semitones) -
      Math.abs(position.semitones - b.position.semitones),
  )[0];
  const strip =
    markers.kind === 'tapes' ? `${rulerWords(settings.stripMm, unit)} wide, ${ALIGNED[settings.align]}` : '';
  const where =
    markers.kind === 'tapes' || markers.kind === 'overlay'
      ? position.edgeMm
      : position.distanceMm - settings.offsetMm;
  const steps = from && position.semitones - from.position.semitones;
  return (
    <>
      <Typography variant="h3">
        Marker {colouredName(position.finger, markers)}
        {!from && ', the anchor: the one that is best heard'}
      </Typography>
      {ruler ? (
        <>
          <Typography sx={{ fontSize: '2.2rem', fontWeight: 700, lineHeight: 1.1 }}>
            {rulerWords(where, unit)}
          </Typography>
          <Typography>
            from the nut’s edge to the {markers.kind === 'tapes' ? 'nearer edge' : 'middle'} of the{' '}
            {MARKER_KINDS[markers.kind]}
            {strip && ` (${strip})`}.
          </Typography>
        </>
      ) : (
        <Typography sx={{ fontSize: '1.35rem', fontWeight: 700 }}>
          {widthWords(page, position)}, then by ear
        </Typography>
      )}
      {from && steps !== undefined && (
        <Typography>
          {stepWords(steps)} {steps < 0 ? 'below' : 'above'} marker {fingerWords(from.position.finger)}
          {ruler && `: ${rulerWords(Math.abs(position.edgeMm - from.position.edgeMm), unit)} from it`}.
        </Typography>
      )}
    </>
  );
}
