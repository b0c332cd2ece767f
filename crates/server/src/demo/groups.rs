//! Small groups of the demo's class: one that helped and one that did not. Nothing that was seen is made up for them: each is put
//! together from children who could have been in one, those who then came further or those who did not, and the rules judge it.

use std::collections::{BTreeMap, BTreeSet};
use std::ops::RangeInclusive;

use bright_row_core::ChildId;
use bright_row_core::craft::checklist::Checklist;
use bright_row_core::craft::id::{CheckpointId, SlipId, Target};
use bright_row_core::progress::context::ChildContext;
use bright_row_core::progress::observation::{Observation, Observed, in_force};
use bright_row_core::term::group::{Change, SmallGroup, Verdict};
use bright_row_core::term::past::{Past, Span};
use bright_row_store::classes::Class;
use chrono::{DateTime, Duration, Utc};
use rand::Rng;

use super::history::Member;
use super::id;

/// A group begins after one of these meetings, and ends one of so many later: within more of them nearly everybody comes further.
const BEGINS_AFTER: RangeInclusive<u32> = 2..=7;
const LASTS: RangeInclusive<u32> = 1..=3;
/// How many children are in one.
const FEWEST: usize = 2;
const AT_ONE_STAND: usize = 4;

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
    let mut groups: Vec<SmallGroup> = Vec::new();
    for (came_further, wanted) in [(true, &[Verdict::Helped][..]), (false, &[Verdict::NotYet, Verdict::AsOthers])] {
        let taken: BTreeSet<ChildId> = groups.iter().flat_map(|group| group.children.clone()).collect();
        let possible = BEGINS_AFTER
            .flat_map(|meeting| LASTS.map(move |lasts| (meeting, lasts)))
            .flat_map(|(meeting, lasts)| shared_after(&pasts, &span, meeting, lasts));
        let mut put_together = possible.filter_map(|all| some_of(all, came_further, &taken, (&pasts, &span)));
        groups.extend(put_together.find(|group| wanted.contains(&group.outcome(&pasts, &span).verdict)));
    }
    for group in &mut groups {
        group.id = id(chance, group.began_at).into();
    }
    groups
}

/// So many of those who share something as fit at one stand: who came further, or who did not, and beside them at most as many whom
/// nobody looked at since.
fn some_of(
    all: SmallGroup,
    came_further: bool,
    taken: &BTreeSet<ChildId>,
    (pasts, span): (&[Past<'_>], &Span<'_>),
) -> Option<SmallGroup> {
    let outcome = all.outcome(pasts, span);
    let free = |change: &&Change| !taken.contains(&change.child);
    let wanted = |change: &&Change| change.looked && change.further == came_further;
    let these: Vec<&Change> = outcome.children.iter().filter(free).filter(wanted).collect();
    let unseen = outcome.children.iter().filter(free).filter(|change| !change.looked).take(these.len());
    let all_of = these.iter().copied().chain(unseen);
    let children: BTreeSet<ChildId> = all_of.map(|change| change.child).take(AT_ONE_STAND).collect();
    (children.len() >= FEWEST).then_some(SmallGroup { children, ..all })
}

/// What a director could have made groups of when a meeting was over: all who shared a slip, or stood below at a checkpoint.
fn shared_after(pasts: &[Past<'_>], span: &Span<'_>, meeting: u32, lasts: u32) -> Vec<SmallGroup> {
    let mut sharing: BTreeMap<Shared, BTreeSet<ChildId>> = BTreeMap::new();
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
            sharing.entry((at.clone(), slip)).or_default().insert(child);
        }
    }
    let Some(day) = span.calendar.date_of(meeting) else { return Vec::new() };
    let began_at: DateTime<Utc> = span.calendar.begins(day) + Duration::hours(16);
    let ended = span.calendar.date_of(meeting + lasts).map(|day| span.calendar.begins(day) + Duration::hours(16));
    let group = |((checkpoint, slip), children): (Shared, BTreeSet<ChildId>)| SmallGroup {
        id: uuid::Uuid::nil().into(),
        checkpoint,
        slip,
        children,
        began_at,
        ended_at: ended,
    };
    sharing.into_iter().map(group).collect()
}
