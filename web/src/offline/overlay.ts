import type { Checkpoint, ChildPage, NewMark, Room, RoomChild, Stage, StringView } from '../api/client';
import type { Pending } from './outbox';

/*
 * What a page shows before the server has answered: its last reading with the marks on their way laid over it. Good
 * enough for the moment in between; the rules themselves are the server's, and its next reading replaces all of this.
 */

const MOST = 4;
const REACHED = 3;
/** How far the fourth string rings, by the tape stage reached. */
const TAPE_GLOW = [0, 0.25, 0.5, 0.75, 1, 1, 1];

/** The marks on their way for one child, those undone before they were sent left out. */
function effective(childId: string, pending: readonly Pending[]): NewMark[] {
  const marks = pending.map(({ item }) => item).filter((mark) => mark.child === childId);
  const undone = new Set(marks.map((mark) => mark.retracts));
  const sent = new Set(marks.map((mark) => mark.id));
  return marks.filter((mark) => !undone.has(mark.id) && !(mark.retracts && sent.has(mark.retracts)));
}

/** A child's page with the marks on their way laid over it. */
export function overlayPage(page: ChildPage, pending: readonly Pending[]): ChildPage {
  const marks = effective(page.child.id, pending);
  if (marks.length === 0) return page;
  const ladders = page.ladders.map((ladder) => ({
    ...ladder,
    stages: ladder.stages.map((stage) => marks.reduce((now, mark) => overlayStage(now, mark, page), stage)),
  }));
  const touched = new Set(
    marks.map((mark) => ladders.findIndex(({ stages }) => stages.some((stage) => speaksOf(mark, stage)))),
  );
  const hurting = marks.filter((mark) => mark.says === 'hurts' && !mark.retracts);
  const strings = page.child.strings.map((string, index) => {
    if (!touched.has(index)) return string;
    const stages = ladders[index]?.stages ?? [];
    const hurts = hurting.some((mark) => stages.some((stage) => speaksOf(mark, stage)));
    return overlayString(string, stages, hurts);
  });
  const brightness = strings.reduce((sum, string) => sum + string.glow, 0) / strings.length;
  return { ...page, ladders, child: { ...page.child, strings, brightness } };
}

/** A room in which the children on whom marks are on their way look as on their overlaid pages. */
export function overlayRoom(
  room: Room,
  pending: readonly Pending[],
  pageOf: (childId: string) => ChildPage | undefined,
): Room {
  const marked = new Set(pending.map(({ item }) => item.child));
  if (marked.size === 0) return room;
  const overlaid = (child: RoomChild) => {
    const page = marked.has(child.id) ? pageOf(child.id) : undefined;
    return page ? overlayPage(page, pending).child : child;
  };
  return { ...room, children: room.children.map(overlaid) };
}

function speaksOf(mark: NewMark, stage: Stage): boolean {
  return mark.target === stage.id || stage.checkpoints.some((checkpoint) => checkpoint.id === mark.target);
}

function overlayStage(stage: Stage, mark: NewMark, page: ChildPage): Stage {
  if (!speaksOf(mark, stage)) return stage;
  const vouchedFor = (checkpoint: Checkpoint) =>
    mark.target === stage.id &&
    !mark.except?.includes(checkpoint.id) &&
    (checkpoint.standing?.level ?? 0) >= REACHED;
  const checkpoints = stage.checkpoints.map((checkpoint) => {
    if (mark.target === checkpoint.id) return overlayCheckpoint(checkpoint, mark, page);
    if (!vouchedFor(checkpoint) || mark.retracts || !checkpoint.standing) return checkpoint;
    return { ...checkpoint, standing: looked(checkpoint.standing, mark) };
  });
  const looksAgain = mark.target === stage.id && !mark.retracts && stage.recheck;
  return looksAgain
    ? { ...stage, checkpoints, recheck: { state: 'fresh', meetings: 1 } }
    : { ...stage, checkpoints };
}

type Standing = NonNullable<Checkpoint['standing']>;

function looked(standing: Standing, mark: NewMark): Standing {
  return {
    ...standing,
    lookedAt: mark.observedAt,
    slipped: false,
    slips: [],
    recheck: { state: 'fresh', meetings: 1 },
  };
}

function overlayCheckpoint(checkpoint: Checkpoint, mark: NewMark, page: ChildPage): Checkpoint {
  const { standing, ...unseen } = checkpoint;
  const level = mark.retracts ? levelWithout(mark.retracts, checkpoint.id, page) : mark.level;
  if (level == null) return unseen;
  const before = standing?.level ?? 0;
  const slips = mark.slips ?? [];
  return {
    ...checkpoint,
    standing: {
      ...standing,
      level,
      lookedAt: mark.observedAt,
      slips,
      slipped: !mark.retracts && (slips.length > 0 || level < before),
      ...(mark.says && { says: mark.says }),
      recheck: { state: 'fresh', meetings: 1 },
    },
  };
}

/** The level before a mark that is being undone, as far as the page's history knows. */
function levelWithout(undone: string, target: string, page: ChildPage): number | undefined {
  const { marks } = page.history;
  const void_ = new Set([undone, ...marks.map((mark) => mark.retracts)]);
  return marks.find((mark) => mark.target === target && mark.level != null && !void_.has(mark.id))?.level;
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
    glow: required.length === 0 ? 0 : sum / (MOST * required.length),
    flags: slipped ? [...others, 'slip'] : others,
  };
}
