//! What a rehearsal comes to, and how that is counted.

use std::sync::Arc;

use serde::Serialize;

use crate::progress::rhythm::REACHES;
use crate::round::play::Player;
use crate::round::reading::Reading;
use crate::round::rounds::Visited;

/// Waits count from this meeting on.
const WAITS_FROM: u32 = 9;
/// What is due counts from this meeting on.
const DUE_FROM: u32 = 16;

/// What a policy came to.
#[derive(Clone, Copy, Debug, Default, PartialEq, Serialize)]
#[serde(rename_all = "camelCase")]
pub struct Outcome {
    /// Share of all checkpoints of all children that are truly at Alone or better at the end.
    pub end: f64,
    /// The mean of that share over the meetings.
    pub mean: f64,
    /// Meetings from a slip to the look that finds it, on the mean.
    pub delay_mean: f64,
    /// The same for all but the slowest twentieth.
    pub delay95: f64,
    /// The longest wait of any child, in meetings, from the ninth meeting on.
    pub longest_wait: f64,
    /// Share of the strands that were seen of which something is due when a meeting begins, from the sixteenth meeting on.
    pub due_share: f64,
    /// Looks that are late when a meeting begins, from the sixteenth meeting on.
    pub late: f64,
    /// Seconds used of a meeting.
    pub seconds: f64,
}

impl Outcome {
    /// The mean of several.
    #[must_use]
    pub fn mean_of(outcomes: &[Self]) -> Self {
        let count = f64::from(u32::try_from(outcomes.len()).unwrap_or(u32::MAX).max(1));
        let of = |value: fn(&Self) -> f64| outcomes.iter().map(value).sum::<f64>() / count;
        Self {
            end: of(|one| one.end),
            mean: of(|one| one.mean),
            delay_mean: of(|one| one.delay_mean),
            delay95: of(|one| one.delay95),
            longest_wait: of(|one| one.longest_wait),
            due_share: of(|one| one.due_share),
            late: of(|one| one.late),
            seconds: of(|one| one.seconds),
        }
    }
}

/// What is counted while a class is played.
#[derive(Default)]
pub(super) struct Tally {
    /// Meetings from each slip to the look that found it.
    delays: Vec<u32>,
    longest_wait: u32,
    due_shares: Vec<f64>,
    late: Vec<usize>,
    shares: Vec<f64>,
    /// Seconds used in all.
    seconds: f64,
}

fn number(count: usize) -> f64 {
    f64::from(u32::try_from(count).unwrap_or(u32::MAX))
}

fn mean(values: impl ExactSizeIterator<Item = f64>) -> f64 {
    let count = number(values.len()).max(1.0);
    // The sum of nothing would be -0.
    values.fold(0.0, |sum, value| sum + value) / count
}

impl Tally {
    /// A meeting begins, with what could be looked at.
    pub(super) fn begins(&mut self, meeting: u32, players: &[Player<'_>], asked: &[Arc<Reading>]) {
        if meeting >= DUE_FROM {
            let due = asked.iter().map(|asked| asked.due).sum();
            let late = asked.iter().map(|asked| asked.late.len()).sum();
            let seen: usize = players.iter().map(|player| player.seen_strands().len()).sum();
            self.due_shares.push(number(due) / number(seen.max(1)));
            self.late.push(late);
        }
    }

    /// A meeting is over.
    pub(super) fn ends(&mut self, meeting: u32, players: &[Player<'_>], visited: Visited) {
        self.seconds += f64::from(visited.seconds);
        self.delays.extend(visited.delays);
        if meeting >= WAITS_FROM {
            let longest = players.iter().map(|player| meeting - player.last_visit).max();
            self.longest_wait = self.longest_wait.max(longest.unwrap_or_default());
        }
        let (mut there, mut all) = (0, 0);
        for player in players {
            for place in player.asked() {
                all += 1;
                there += usize::from(player.truth(place) >= REACHES);
            }
        }
        self.shares.push(number(there) / number(all.max(1)));
    }

    /// What it came to.
    pub(super) fn outcome(mut self) -> Outcome {
        self.delays.sort_unstable();
        let most = self.delays.len() * 95 / 100;
        Outcome {
            end: self.shares.last().copied().unwrap_or_default(),
            mean: mean(self.shares.iter().copied()),
            delay_mean: mean(self.delays.iter().map(|delay| f64::from(*delay))),
            delay95: self.delays.get(most).map_or(0.0, |delay| f64::from(*delay)),
            longest_wait: f64::from(self.longest_wait),
            due_share: mean(self.due_shares.iter().copied()),
            late: mean(self.late.iter().map(|late| number(*late))),
            seconds: self.seconds / number(self.shares.len()).max(1.0),
        }
    }
}
