import type { Schemas } from '../api/client';
import { listed } from './text';

/* Why something is proposed. */

/** What a seat plan does not keep. */
export const WISHES: Record<Schemas['Wish'], string> = {
  together: 'Beside the own section',
  bassAtSideOrBack: 'A bass at a side or at the back',
  shorterInFront: 'Behind everybody shorter of the section',
  nearFront: 'Near the front',
  nearAisle: 'Near an aisle',
};

/** Why a child gets this instrument: `one size smaller than 3/4, in fair condition`. */
export function pairWords({ fits = '', gap, present, fair, locked }: Schemas['PairView']): string {
  return [
    sizeWords(fits, gap),
    present && 'has it already',
    fair && 'in fair condition',
    locked && 'kept by you',
  ]
    .filter(Boolean)
    .join(', ');
}

function sizeWords(fits: string, gap: Schemas['SizeGap']): string {
  switch (gap.kind) {
    case 'exact':
      return `${fits} fits`;
    case 'smaller':
      return gap.sizes === 1
        ? `one size smaller than ${fits}`
        : `${gap.sizes} sizes smaller than ${fits}: for the time being`;
    case 'larger':
      return `one size larger than ${fits}: just below it`;
    case 'unknown':
      return 'not measured yet: kept';
  }
}

/** Why a child gets none, and what to do. */
export function withoutWords({ fits, instrument }: Schemas['WithoutView']): string {
  return fits === undefined
    ? 'Measure first: without a measure no size can be proposed.'
    : `No ${instrument} of ${fits} or just below is free: on the order list.`;
}

/** What an import changes of a child: `violin to cello, near the front: yes`. */
export function changesWords(changes: Schemas['RowView']['changes']): string {
  const yes = (flag: boolean) => (flag ? 'yes' : 'no');
  const change = (one: (typeof changes)[number]) => {
    switch (one.field) {
      case 'instrument':
        return `${one.from} to ${one.to}`;
      case 'nearFront':
        return `near the front: ${yes(one.to)}`;
      case 'nearAisle':
        return `near an aisle: ${yes(one.to)}`;
      default:
        return `${one.field} ${one.from || 'none'} to ${one.to || 'none'}`;
    }
  };
  return changes.map(change).join(', ');
}

/** How a checkpoint is asked for, or what a stage waits for; nothing where it is not asked for. */
export function askedWords(asked: Schemas['Asked']): string {
  switch (asked.kind) {
    case 'not':
      return '';
    case 'words':
      return asked.text;
    case 'opensAfter':
      return asked.names.length === 0 ? 'Open from the first day' : `Opens after ${listed(asked.names)}`;
  }
}
