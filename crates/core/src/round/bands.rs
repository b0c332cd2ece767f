//! What many runs of a forecast come to: for each thing where most of them end up, and how far apart they lie.

use crate::progress::rhythm::{MAX_INTERVAL, Rhythm};
use crate::round::forecast::Run;

/// Where a value lies in many runs: in one of ten it is lower than `low`, in half of them lower than `middle`, in nine of ten at
/// most `high`.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Band<T> {
    /// One of ten runs comes out lower.
    pub low: T,
    /// Half of them do.
    pub middle: T,
    /// Nine of ten come out at most here.
    pub high: T,
}

/// One meeting in many runs.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct MeetingAhead {
    /// Looks that are late when it begins.
    pub late: Band<u32>,
    /// Looks that are late by more than [`crate::round::forecast::LATE_AT_MOST`] meetings, on the mean.
    pub too_late: f64,
    /// The longest wait of any child since its last visit when it begins, in meetings.
    pub longest_wait: Band<u32>,
    /// Children visited, on the mean.
    pub visited: f64,
}

/// What the runs come to together.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Ahead {
    /// The meetings, in order.
    pub meetings: Vec<MeetingAhead>,
    /// The meeting by which each milestone is reached; `None` where it is not before the last one.
    pub reached: Vec<Band<Option<u32>>>,
    /// The longest wait of any child, once who waits too long today has been visited.
    pub longest_wait: Band<u32>,
    /// The mean wait over all children and meetings.
    pub mean_wait: f64,
}

/// What is late today is made up within so many meetings.
const MADE_UP_WITHIN: usize = 5;

impl<T: Copy + Default + Ord> Band<T> {
    /// The band of these values; of none the default.
    fn of(mut values: Vec<T>) -> Self {
        values.sort_unstable();
        let at = |tenths: usize| {
            let place = (values.len() * tenths / 10).min(values.len().saturating_sub(1));
            values.get(place).copied().unwrap_or_default()
        };
        let high = (values.len() * 9).div_ceil(10).saturating_sub(1);
        Self { low: at(1), middle: at(5), high: values.get(high).copied().unwrap_or_default() }
    }

    fn map<U>(self, by: impl Fn(T) -> U) -> Band<U> {
        Band { low: by(self.low), middle: by(self.middle), high: by(self.high) }
    }
}

fn mean(values: impl Iterator<Item = f64>) -> f64 {
    let (sum, count) = values.fold((0.0, 0.0), |(sum, count), value| (sum + value, count + 1.0));
    if count > 0.0 { sum / count } else { 0.0 }
}

impl Ahead {
    /// What these runs of one forecast come to.
    #[must_use]
    pub fn of(runs: &[Run]) -> Self {
        let meetings = runs.iter().map(|run| run.met.len()).max().unwrap_or_default();
        let meeting = |place: usize| {
            let met = || runs.iter().filter_map(move |run| run.met.get(place));
            MeetingAhead {
                late: Band::of(met().map(|met| met.late).collect()),
                too_late: mean(met().map(|met| f64::from(met.too_late))),
                longest_wait: Band::of(met().map(|met| met.longest_wait).collect()),
                visited: mean(met().map(|met| f64::from(met.visited))),
            }
        };
        let milestones = runs.iter().map(|run| run.reached.len()).max().unwrap_or_default();
        let reached = |place: usize| {
            // Not reached comes after every meeting.
            let at = runs.iter().map(|run| run.reached.get(place).copied().flatten().unwrap_or(u32::MAX));
            Band::of(at.collect()).map(|at| (at < u32::MAX).then_some(at))
        };
        let longest =
            |run: &Run| run.met.iter().skip(MADE_UP_WITHIN).map(|met| met.longest_wait).max().unwrap_or_default();
        Self {
            meetings: (0..meetings).map(meeting).collect(),
            reached: (0..milestones).map(reached).collect(),
            longest_wait: Band::of(runs.iter().map(longest).collect()),
            mean_wait: mean(runs.iter().flat_map(|run| &run.met).map(|met| met.mean_wait)),
        }
    }

    /// Whether the class keeps up: once what is late today is made up, not one look in the class is late by more than
    /// [`crate::round::forecast::LATE_AT_MOST`] meetings, on the mean over the meetings.
    #[must_use]
    pub fn keeps_up(&self) -> bool {
        let left = self.meetings.iter().skip(MADE_UP_WITHIN).map(|meeting| meeting.too_late);
        mean(left) < 1.0
    }
}

/// The least number from `first` to `last` that will do, where every greater one does as well; `None` where not even `last`
/// does, or as soon as `does` answers nothing.
pub fn least(first: u32, last: u32, mut does: impl FnMut(u32) -> Option<bool>) -> Option<u32> {
    if !does(last)? {
        return None;
    }
    let (mut low, mut high) = (first, last);
    while low < high {
        let middle = u32::midpoint(low, high);
        if does(middle)? { high = middle } else { low = middle + 1 }
    }
    Some(low)
}

/// The rhythm with what stands at Alone looked at after `alone` meetings, and the other looks at what stands as much later.
#[must_use]
pub fn stretched(rhythm: &Rhythm, alone: u32) -> Rhythm {
    let later = |meetings: u32| {
        let product = u64::from(meetings) * u64::from(alone);
        let grown = product.div_ceil(u64::from(rhythm.alone.max(1)));
        u32::try_from(grown).unwrap_or(MAX_INTERVAL).min(MAX_INTERVAL)
    };
    Rhythm { alone, lasting: later(rhythm.lasting), longest: later(rhythm.longest), ..*rhythm }
}
