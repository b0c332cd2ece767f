import { useMemo } from 'react';
import { v7 as uuid } from 'uuid';
import type { Marker, NewTapeEntry, TapePage, TapeSpot } from '../api/client';
import { ask, CoreFault, useCoreIsThere, type Answer } from '../core/door';
import { useTapeBox } from './useOutbox';

/** An instrument's markers: how each stands, and where each goes. */
export interface MarkersNow {
  spots: TapeSpot[];
  positions: Marker[];
}

/** An instrument's markers with what is on its way to its log, as the server will say. */
export function markersWith(page: TapePage, pending: NewTapeEntry[]): MarkersNow {
  const own = pending.filter(({ asset }) => asset === page.asset);
  if (own.length === 0) return page;
  try {
    return ask('benchNow', { basis: page.basis, pending: own }).markers ?? page;
  } catch (error) {
    // An older server sent too little: then its own answer is shown.
    if (!(error instanceof CoreFault)) throw error;
    console.error(error);
    return page;
  }
}

export function useMarkersNow(page: TapePage): MarkersNow {
  const { pending } = useTapeBox();
  const there = useCoreIsThere();
  return useMemo(
    () =>
      there
        ? markersWith(
            page,
            pending.map(({ item }) => item),
          )
        : page,
    [page, pending, there],
  );
}

/** What of an entry cannot be, else the markers as they stand with it; nothing of either until the core is there. */
export function tryEntry(
  page: TapePage,
  entry: Omit<NewTapeEntry, 'id' | 'asset' | 'at'>,
): Answer<'tapeEntry'> {
  const full = { ...entry, id: uuid(), asset: page.asset, at: new Date().toISOString() };
  return ask('tapeEntry', { basis: page.basis, pending: [], entry: full });
}
