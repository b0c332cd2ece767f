import type {
  Checkpoint,
  ChildPage,
  NewObservation,
  Room,
  RoomChild,
  Stage,
  StringView,
} from '../api/client';
import type { Pending } from './outbox';

/*
 * What a page shows before the server has answered: its last answer with the observations on their way laid over it. Good
 * enough for the moment in between; the rules themselves are the server's, and its next answer replaces all of this.
 */

const MAX_LEVEL = 4;
const REACHED = 3;
/** How far the fourth string rings, by the tape stage reached. */
const TAPE_GLOW = [0, 0.25, 0.5, 0.75, 1, 1, 1];

/** The observations on their way for one child, those undone before they were sent left out. */
function effective(childId: string, pending: readonly Pending[]): NewObservation[] {
  const observations = pending.map(({ item }) => item).filter((observation) => observation.child === childId);
  const undone = new Set(observations.map((observation) => observation.retracts));
  const sent = new Set(observations.map((observation) => observation.id));
  return observations.filter(
    (observation) => !undone.has(observation.id) && !(observation.retracts && sent.has(observation.retracts)),
  );
}

/** A child's page with the observations on their way laid over it. */
export function overlayPage(page: ChildPage, pending: readonly Pending[]): ChildPage {
  const observations = effective(page.child.id, pending);
  if (observations.length === 0) return page;
  const ladders = page.ladders.map((ladder) => ({
    ...ladder,
    stages: ladder.stages.map((stage) =>
      observations.reduce((now, observation) => overlayStage(now, observation, page), stage),
    ),
  }));
  const touched = new Set(
    observations.map((observation) =>
      ladders.findIndex(({ stages }) => stages.some((stage) => speaksOf(observation, stage))),
    ),
  );
  const hurting = observations.filter((observation) => observation.says === 'hurts' && !observation.retracts);
  const strings = page.child.strings.map((string, index) => {
    if (!touched.has(index)) return string;
    const stages = ladders[index]?.stages ?? [];
    const hurts = hurting.some((observation) => stages.some((stage) => speaksOf(observation, stage)));
    return overlayString(string, stages, hurts);
  });
  const brightness = strings.reduce((sum, string) => sum + string.glow, 0) / strings.length;
  return { ...page, ladders, child: { ...page.child, strings, brightness } };
}

/** A room in which the children on whom observations are on their way look as on their overlaid pages. */
export function overlayRoom(
  room: Room,
  pending: readonly Pending[],
  pageOf: (childId: string) => ChildPage | undefined,
): Room {
  const recorded = new Set(pending.map(({ item }) => item.child));
  if (recorded.size === 0) return room;
  const overlaid = (child: RoomChild) => {
    const page = recorded.has(child.id) ? pageOf(child.id) : undefined;
    return page ? overlayPage(page, pending).child : child;
  };
  return { ...room, children: room.children.map(overlaid) };
}

function speaksOf(observation: NewObservation, stage: Stage): boolean {
  return (
    observation.target === stage.id ||
    stage.checkpoints.some((checkpoint) => checkpoint.id === observation.target)
  );
}

function overlayStage(stage: Stage, observation: NewObservation, page: ChildPage): Stage {
  if (!speaksOf(observation, stage)) return stage;
  const vouchedFor = (checkpoint: Checkpoint) =>
    observation.target === stage.id &&
    !observation.except?.includes(checkpoint.id) &&
    (checkpoint.standing?.level ?? 0) >= REACHED;
  const checkpoints = stage.checkpoints.map((checkpoint) => {
    if (observation.target === checkpoint.id) return overlayCheckpoint(checkpoint, observation, page);
    if (!vouchedFor(checkpoint) || observation.retracts || !checkpoint.standing) return checkpoint;
    return { ...checkpoint, standing: looked(checkpoint.standing, observation) };
  });
  const looksAgain = observation.target === stage.id && !observation.retracts && stage.recheck;
  return looksAgain
    ? { ...stage, checkpoints, recheck: { state: 'fresh', meetings: 1 } }
    : { ...stage, checkpoints };
}

type Standing = NonNullable<Checkpoint['standing']>;

function looked(standing: Standing, observation: NewObservation): Standing {
  return {
    ...standing,
    lookedAt: observation.observedAt,
    slipped: false,
    slips: [],
    recheck: { state: 'fresh', meetings: 1 },
  };
}

function overlayCheckpoint(checkpoint: Checkpoint, observation: NewObservation, page: ChildPage): Checkpoint {
  const { standing, ...unseen } = checkpoint;
  const level = observation.retracts
    ? levelWithout(observation.retracts, checkpoint.id, page)
    : observation.level;
  if (level == null) return unseen;
  const before = standing?.level ?? 0;
  const slips = observation.slips ?? [];
  return {
    ...checkpoint,
    standing: {
      ...standing,
      level,
      lookedAt: observation.observedAt,
      slips,
      slipped: !observation.retracts && (slips.length > 0 || level < before),
      ...(observation.says && { says: observation.says }),
      recheck: { state: 'fresh', meetings: 1 },
    },
  };
}

/** The level before an observation that is being undone, as far as the page's history knows. */
function levelWithout(undone: string, target: string, page: ChildPage): number | undefined {
  const { observations } = page.history;
  const void_ = new Set([undone, ...observations.map((observation) => observation.retracts)]);
  return observations.find(
    (observation) => observation.target === target && observation.level != null && !void_.has(observation.id),
  )?.level;
}

function overlayString(before: StringView, stages: Stage[], hurts: boolean): StringView {
  // Pain is flagged at once; only somebody's word on what was done takes the flag away.
  const flags = hurts && !before.flags.includes('pain') ? ['pain' as const, ...before.flags] : before.flags;
  const string = { ...before, flags };
  const checkpoints = stages.flatMap((stage) => stage.checkpoints);
  const seen = checkpoints.some((checkpoint) => checkpoint.standing);
  if (string.strand === 'tape') {
    const reached = stages.filter((stage) =>
      stage.checkpoints.some((c) => (c.standing?.level ?? 0) >= REACHED),
    );
    const furthest = Math.max(0, ...reached.map((stage) => stage.number));
    // Trouble with the tapes never takes light away.
    return { ...string, seen, glow: Math.max(TAPE_GLOW[furthest] ?? 0, seen ? string.glow : 0) };
  }
  const required = checkpoints.filter((checkpoint) => checkpoint.required);
  const sum = required.reduce((total, checkpoint) => total + (checkpoint.standing?.level ?? 0), 0);
  const slipped = checkpoints.some((checkpoint) => checkpoint.standing?.slipped);
  const others = string.flags.filter((flag) => flag !== 'slip');
  return {
    ...string,
    seen,
    glow: required.length === 0 ? 0 : sum / (MAX_LEVEL * required.length),
    flags: slipped ? [...others, 'slip'] : others,
  };
}
