//! Small groups of the demo's class: one that helped and one that did not, as far as the class had such. Nothing about them is made
//! up: of the groups that it could have had, the first of each kind is taken, as the rules judge it from what was seen.

use std::collections::{BTreeMap, BTreeSet};

use bright_row_core::ChildId;
use bright_row_core::craft::checklist::Checklist;
use bright_row_core::craft::id::{CheckpointId, SlipId, Target};
use bright_row_core::progress::context::ChildContext;
use bright_row_core::progress::observation::{Observation, Observed, in_force};
use bright_row_core::term::group::{SmallGroup, Verdict};
use bright_row_core::term::past::{Past, Span};
use bright_row_store::classes::Class;
use chrono::{DateTime, Duration, Utc};
use rand::Rng;

use super::history::Member;
use super::id;

/// A group begins after one of these meetings, and the one that helped ends so many later.
const BEGINS_AFTER: [u32; 3] = [3, 4, 5];
const LASTS: u32 = 4;

/// What children share: a checkpoint, and a slip if it is one.
type Shared = (CheckpointId, Option<SlipId>);

/// One that helped and one that did not, if the class had such.
pub(super) fn of(
    class: &Class,
    checklist: &Checklist,
    members: &[Member<'_>],
    observations: &[Observation],
    chance: &mut impl Rng,
) -> Vec<SmallGroup> {
    let context = ChildContext::default();
    let now = observations.last().map_or(0, |last| class.calendar.meeting_at(last.observed_at));
    let span = Span { calendar: &class.calendar, rhythm: &class.rhythm, now };
    let mut seen: BTreeMap<ChildId, Vec<&Observation>> = BTreeMap::new();
    for observation in in_force(observations) {
        seen.entry(observation.child).or_default().push(observation);
    }
    let pasts: Vec<Past<'_>> = members
        .iter()
        .map(|member| Past {
            child: member.0.id,
            checklist,
            playing: &member.0.playing,
            context: &context,
            joined: 1,
            seen: seen.get(&member.0.id).cloned().unwrap_or_default(),
            held: Vec::new(),
        })
        .collect();
    let possible: Vec<(SmallGroup, Verdict)> = BEGINS_AFTER
        .into_iter()
        .flat_map(|meeting| shared_after(&pasts, &span, meeting))
        .map(|group| {
            let verdict = group.outcome(&pasts, &span).verdict;
            (group, verdict)
        })
        .collect();
    let first = |wanted: &[Verdict], taken: &BTreeSet<ChildId>| {
        let fits =
            |(group, verdict): &&(SmallGroup, Verdict)| wanted.contains(verdict) && group.children.is_disjoint(taken);
        possible.iter().find(fits).map(|(group, _)| group.clone())
    };
    let mut groups: Vec<SmallGroup> = Vec::new();
    for wanted in [&[Verdict::Helped][..], &[Verdict::NotYet, Verdict::AsOthers]] {
        let taken = groups.iter().flat_map(|group| group.children.clone()).collect();
        groups.extend(first(wanted, &taken));
    }
    for group in &mut groups {
        group.id = id(chance, group.began_at).into();
    }
    groups
}

/// The groups that a director could have made when a meeting was over: neighbours who shared a slip, or stood below at a checkpoint.
fn shared_after(pasts: &[Past<'_>], span: &Span<'_>, meeting: u32) -> Vec<SmallGroup> {
    let mut sharing: BTreeMap<Shared, Vec<ChildId>> = BTreeMap::new();
    let mut last: BTreeMap<(ChildId, &CheckpointId), &Observation> = BTreeMap::new();
    for look in pasts.iter().flat_map(|past| &past.seen) {
        if let Target::Checkpoint(at) = &look.target
            && span.calendar.meeting_at(look.observed_at) <= meeting
        {
            last.insert((look.child, at), look);
        }
    }
    for ((child, at), look) in last {
        if let Observed::Level { level, slips } = &look.seen
            && *level < bright_row_core::progress::rhythm::PASSES
        {
            let slip = slips.first().cloned();
            sharing.entry((at.clone(), slip)).or_default().push(child);
        }
    }
    let Some(day) = span.calendar.date_of(meeting) else { return Vec::new() };
    let began_at: DateTime<Utc> = span.calendar.begins(day) + Duration::hours(16);
    let ended = span.calendar.date_of(meeting + LASTS).map(|day| span.calendar.begins(day) + Duration::hours(16));
    let group = |(checkpoint, slip): Shared, children: &[ChildId]| SmallGroup {
        id: uuid::Uuid::nil().into(),
        checkpoint,
        slip,
        children: children.iter().copied().collect(),
        began_at,
        ended_at: ended,
    };
    let order: BTreeMap<ChildId, usize> = pasts.iter().zip(0..).map(|(past, place)| (past.child, place)).collect();
    let of_shared = |(shared, mut children): (Shared, Vec<ChildId>)| {
        children.sort_by_key(|child| order.get(child));
        // Neighbours, so many as fit at one stand.
        let sizes = [4, 3].into_iter().flat_map(|size| children.windows(size));
        sizes.map(|these| group(shared.clone(), these)).collect::<Vec<_>>()
    };
    sharing.into_iter().flat_map(of_shared).collect()
}
