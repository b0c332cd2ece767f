import type { Marker, TapePage, TapeSpot } from '../../api/client';
import type { BoardMarker } from '../../parts/Fingerboard';
import { rulerWords, tenths, type Unit } from '../../parts/units';
import { centsWords, colourOf, markerName } from '../../words/markers';

/** The fingers of first position that are shown: those that the class calls for, and those that are there. */
export function shownFingers(spots: TapeSpot[], positions: Marker[]): { spot: TapeSpot; position: Marker }[] {
  return positions.flatMap((position) => {
    const spot = spots.find((one) => one.spot === position.finger);
    return spot && (spot.wanted || spot.presence !== 'never') ? [{ spot, position }] : [];
  });
}

/** `move 2.0 mm towards the nut`; nothing for less than a tenth. */
export function moveWords(mm: number, unit: Unit): string {
  if (Math.abs(tenths(mm)) < 0.1) return 'where it belongs';
  return `move ${rulerWords(Math.abs(mm), unit)} towards the ${mm < 0 ? 'nut' : 'bridge'}`;
}

/** How a marker is, in a few words. */
export function spotWords({ presence, proved, verdict, cents }: TapeSpot): string {
  if (presence === 'never') return 'not laid';
  if (presence === 'loose') return 'coming off';
  if (presence === 'missing') return 'gone';
  if (presence === 'taken') return 'taken away';
  const off = cents !== undefined && Math.round(cents) !== 0 ? ` (${centsWords(cents)})` : '';
  if (proved) return `true${off}`;
  if (verdict === 'move') return `off${off}`;
  if (verdict !== undefined || cents !== undefined) return `to be heard${off}`;
  return 'to be heard';
}

/** How far a marker has to move: as it was measured, or as far as its cents tell; positive towards the bridge. */
export function moveOf(spot: TapeSpot, position: Marker): number | undefined {
  if (position.measured) return position.measured.moveMm;
  return spot.cents === undefined ? undefined : -spot.cents * position.mmPerCent;
}

/** The markers as they are drawn: where they were measured, or where their cents say that they lie. */
export function boardMarkers(page: TapePage, spots: TapeSpot[], unit: Unit): BoardMarker[] {
  return shownFingers(spots, page.positions).map(({ spot, position }) => {
    const on = spot.presence === 'on' || spot.presence === 'loose';
    const move = on ? moveOf(spot, position) : undefined;
    const cents = spot.cents ?? position.measured?.cents;
    const off = on && cents !== undefined && Math.round(cents) !== 0 ? `, ${centsWords(cents)}` : '';
    return {
      finger: position.finger,
      name: markerName(spot.spot),
      colour: colourOf(page.markers.fingerColours, position.finger).hex,
      edgeMm: position.edgeMm,
      foundMm: move === undefined || Math.abs(move) < 0.05 ? undefined : position.edgeMm - move,
      on,
      off: spot.verdict === 'move',
      words: `${rulerWords(position.edgeMm, unit)}${off}`,
    };
  });
}

/** A sentence for those who do not see the drawing. */
export function boardLabel(page: TapePage, spots: TapeSpot[], unit: Unit): string {
  const markers = shownFingers(spots, page.positions).map(
    ({ spot, position }) =>
      `${markerName(spot.spot)} at ${rulerWords(position.edgeMm, unit)}, ${spotWords(spot)}`,
  );
  return `Fingerboard of ${page.tag}: ${markers.join('; ') || 'no markers'}.`;
}
