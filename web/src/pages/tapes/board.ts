import type { Place, TapePage, TapeSpot } from '../../api/client';
import type { BoardMark } from '../../parts/Fingerboard';
import { rulerWords, tenths, type Unit } from '../../parts/units';
import { centsWords } from '../../words';

/** The fingers of first position that are shown: those that the class calls for, and those that are there. */
export function shownFingers(spots: TapeSpot[], places: Place[]): { spot: TapeSpot; place: Place }[] {
  return places.flatMap((place) => {
    const spot = spots.find((one) => one.spot === place.finger);
    return spot && (spot.wanted || spot.presence !== 'never') ? [{ spot, place }] : [];
  });
}

/** `move 2.0 mm towards the nut`; nothing for less than a tenth. */
export function moveWords(mm: number, unit: Unit): string {
  if (Math.abs(tenths(mm)) < 0.1) return 'where it belongs';
  return `move ${rulerWords(Math.abs(mm), unit)} towards the ${mm < 0 ? 'nut' : 'bridge'}`;
}

/** How a mark is, in a few words. */
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

/** How far a mark has to move: as it was measured, or as far as its cents tell; positive towards the bridge. */
export function moveOf(spot: TapeSpot, place: Place): number | undefined {
  if (place.measured) return place.measured.moveMm;
  return spot.cents === undefined ? undefined : -spot.cents * place.mmPerCent;
}

/** The marks as they are drawn: where they were measured, or where their cents say that they lie. */
export function boardMarks(page: TapePage, spots: TapeSpot[], unit: Unit): BoardMark[] {
  return shownFingers(spots, page.places).map(({ spot, place }) => {
    const on = spot.presence === 'on' || spot.presence === 'loose';
    const move = on ? moveOf(spot, place) : undefined;
    const cents = spot.cents ?? place.measured?.cents;
    const off = on && cents !== undefined && Math.round(cents) !== 0 ? `, ${centsWords(cents)}` : '';
    return {
      finger: place.finger,
      name: spot.name,
      number: Number(/[1-4]/.exec(place.finger)?.[0] ?? 1),
      edgeMm: place.edgeMm,
      foundMm: move === undefined || Math.abs(move) < 0.05 ? undefined : place.edgeMm - move,
      on,
      off: spot.verdict === 'move',
      words: `${rulerWords(place.edgeMm, unit)}${off}`,
    };
  });
}

/** A sentence for those who do not see the drawing. */
export function boardLabel(page: TapePage, spots: TapeSpot[], unit: Unit): string {
  const marks = shownFingers(spots, page.places).map(
    ({ spot, place }) => `${spot.name} at ${rulerWords(place.edgeMm, unit)}, ${spotWords(spot)}`,
  );
  return `Fingerboard of ${page.tag}: ${marks.join('; ') || 'no marks'}.`;
}
