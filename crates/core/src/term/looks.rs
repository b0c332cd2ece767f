//! How long looks waited, and how long looking took.

use std::collections::{BTreeMap, BTreeSet};

use chrono::{DateTime, Duration, Utc};

use crate::AccountId;
use crate::craft::strand::Strand;
use crate::progress::observation::{Observation, Via};
use crate::term::past::{Past, Span};

/// Two looks by one person that lie further apart than this are not one stretch of looking.
const PAUSE: Duration = Duration::seconds(180);
/// What the first look of a stretch took.
const FIRST_LOOK: Duration = Duration::seconds(30);

/// How long something waited for looks, in meetings.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct Waits {
    /// Meetings at which somebody looked.
    pub looked: usize,
    /// From one look to the next on the mean, the first since joining; `None` before the first.
    pub mean: Option<f64>,
    /// The longest wait, that of now included.
    pub longest: u32,
    /// Since the last look, or since joining.
    pub now: u32,
}

impl Waits {
    /// The waits between these meetings, for somebody who has been there from meeting `joined` on (from 1).
    fn between(meetings: &BTreeSet<u32>, joined: u32, now: u32) -> Self {
        // Who joined at a meeting and is looked at then waited one meeting, as the round counts it.
        let mut last = joined.saturating_sub(1);
        let mut waits = Vec::new();
        for meeting in meetings.iter().filter(|meeting| **meeting >= joined) {
            waits.push(meeting.saturating_sub(last));
            last = *meeting;
        }
        let since = now.saturating_sub(last);
        let count = u32::try_from(waits.len()).unwrap_or(u32::MAX);
        let sum: u32 = waits.iter().sum();
        Self {
            looked: waits.len(),
            mean: (count > 0).then(|| f64::from(sum) / f64::from(count)),
            longest: waits.iter().copied().max().unwrap_or_default().max(since),
            now: since,
        }
    }

    /// The visits at a child's chair.
    #[must_use]
    pub fn for_visits(past: &Past<'_>, span: &Span<'_>) -> Self {
        let visits = past.seen.iter().filter(|look| look.via == Via::Visit);
        let meetings = visits.map(|look| span.calendar.meeting_at(look.observed_at)).collect();
        Self::between(&meetings, past.joined, span.now)
    }

    /// Looks at each strand of a child, in their order, from afar too.
    #[must_use]
    pub fn for_strands(past: &Past<'_>, span: &Span<'_>) -> [Self; 4] {
        let mut meetings: [BTreeSet<u32>; 4] = Default::default();
        for look in past.seen.iter().filter(|look| matches!(look.via, Via::Visit | Via::Scan)) {
            let strand = past.checklist.strand_of_target(&look.target);
            let place = strand.and_then(|strand| Strand::ALL.into_iter().position(|one| one == strand));
            if let Some(place) = place {
                meetings[place].insert(span.calendar.meeting_at(look.observed_at));
            }
        }
        meetings.map(|meetings| Self::between(&meetings, past.joined, span.now))
    }

    /// Those of many together: the mean over all their waits, the longest of all.
    #[must_use]
    pub fn together(waits: &[Self]) -> Self {
        let count = |waits: &Self| f64::from(u32::try_from(waits.looked).unwrap_or(u32::MAX));
        let looked: f64 = waits.iter().map(count).sum();
        let sum: f64 = waits.iter().filter_map(|one| Some(one.mean? * count(one))).sum();
        Self {
            looked: waits.iter().map(|one| one.looked).sum(),
            mean: (looked > 0.0).then(|| sum / looked),
            longest: waits.iter().map(|one| one.longest).max().unwrap_or_default(),
            now: waits.iter().map(|one| one.now).max().unwrap_or_default(),
        }
    }
}

/// How long looking took at each meeting, in seconds.
///
/// Looks by one person that are at most three minutes apart are one stretch: it took from its first look to its last, and
/// half a minute for the first. What was noted at set-up or at the bench is no look in class.
#[must_use]
pub fn seconds_of_looking<'a>(seen: impl IntoIterator<Item = &'a Observation>, span: &Span<'_>) -> BTreeMap<u32, i64> {
    let mut by_person: BTreeMap<AccountId, Vec<DateTime<Utc>>> = BTreeMap::new();
    for look in seen.into_iter().filter(|look| matches!(look.via, Via::Visit | Via::Scan)) {
        by_person.entry(look.observer).or_default().push(look.observed_at);
    }
    let mut seconds: BTreeMap<u32, i64> = BTreeMap::new();
    for mut moments in by_person.into_values() {
        moments.sort_unstable();
        let mut last: Option<DateTime<Utc>> = None;
        for moment in moments {
            let pause = last.map(|last| moment - last).filter(|pause| *pause <= PAUSE);
            let took = pause.unwrap_or(FIRST_LOOK);
            *seconds.entry(span.calendar.meeting_at(moment)).or_default() += took.num_seconds();
            last = Some(moment);
        }
    }
    seconds
}
