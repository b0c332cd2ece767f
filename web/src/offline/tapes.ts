import type { NewTapeEntry, TapeSpot } from '../api/client';
import type { Pending } from './outbox';

function turned(spot: TapeSpot, entry: NewTapeEntry): TapeSpot {
  const named = entry.spots?.includes(spot.spot) || entry.finger === spot.spot;
  const { cents, verdict, ...bare } = spot;
  switch (entry.kind) {
    case 'placed':
    case 'back':
      return named ? { ...bare, presence: 'on', proved: false } : spot;
    case 'loose':
      return named ? { ...spot, presence: 'loose' } : spot;
    case 'missing':
      return named ? { ...spot, presence: 'missing' } : spot;
    case 'thinned':
      return named ? { ...spot, presence: 'taken' } : spot;
    case 'bare':
      return spot.presence === 'never' ? spot : { ...spot, presence: 'taken' };
    case 'heard': {
      if (!named) return spot;
      // Only the server knows what so many cents come to.
      if (entry.cents != null) return { ...bare, presence: 'on', proved: false, cents: entry.cents };
      const isTrue = entry.heard === 'true';
      return { ...bare, presence: 'on', proved: isTrue, verdict: isTrue ? 'true' : 'move' };
    }
    case 'held': {
      if (spot.presence === 'loose') return { ...spot, presence: 'on' };
      const known = cents !== undefined || verdict !== undefined;
      return spot.presence === 'on' && known ? { ...bare, proved: true, verdict: 'true' } : spot;
    }
    default:
      return spot;
  }
}

/** An instrument's markers as they stand with what is on its way to the log laid over them. */
export function overlaySpots(
  asset: string,
  spots: TapeSpot[],
  pending: readonly Pending<NewTapeEntry>[],
): TapeSpot[] {
  return pending
    .filter(({ item }) => item.asset === asset)
    .reduce((all, { item }) => all.map((spot) => turned(spot, item)), spots);
}
