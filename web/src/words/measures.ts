import type { Measure, Schemas } from '../api/client';

/* What is measured, and which size it proposes. */

export const MEASURES: Record<Measure, { name: string; how: string }> = {
  armMm: { name: 'Arm', how: 'Outstretched: side of the neck to the middle of the palm' },
  heightMm: { name: 'Height', how: 'Standing, shoes off' },
  spanMm: { name: 'Finger span', how: 'Stretched: tip of finger 1 to tip of finger 4' },
  kneeMm: { name: 'Knee', how: 'Floor to the crease behind the knee' },
  lipMm: { name: 'Lips', how: 'Floor to the lips, standing' },
  foreheadMm: { name: 'Forehead', how: 'Floor to the eyebrow, standing' },
};

/** Why a size is proposed, or none; lengths by `length`, which knows the unit. */
export function sizeReason(proposal: Schemas['SizeProposal'], length: (mm: number) => string): string {
  const measured = `${MEASURES[proposal.measure].name} of ${length(proposal.valueMm)}`;
  const size = proposal.proposed ?? '';
  switch (proposal.reason) {
    case 'fromOn':
      return `${measured}: ${size} is from ${length(proposal.fromMm)} on.`;
    case 'between': {
      const larger = `${proposal.larger ?? ''} from ${length(proposal.largerFromMm ?? 0)}`;
      return `${measured}: ${size} is from ${length(proposal.fromMm)} on, ${larger}. Between two sizes take the smaller.`;
    }
    case 'spanReaches': {
      const span = `the span of ${length(proposal.spanMm)} reaches it (from ${length(proposal.spanFromMm)})`;
      return `${measured} is just below ${size} (from ${length(proposal.fromMm)}), and ${span}.`;
    }
    case 'tooSmall': {
      const { smallest, fromMm } = proposal;
      const below =
        smallest && fromMm ? ` is below the smallest size (${smallest}, from ${length(fromMm)})` : '';
      return `${measured}${below}: too small to fit, ask the shop.`;
    }
  }
}
