//! Meetings of a class that is played: class teaching, whom to visit, and what the visits find.

use std::sync::Arc;

use crate::craft::id::Target;
use crate::progress::next::Order;
use crate::round::checks::visit_points;
use crate::round::planner::{PlanChild, RoundTerms};
use crate::round::play::{Chance, Player, Setting};
use crate::round::rates::ClassRates;
use crate::round::reading::Reading;

/// By what the meetings of a class are played.
#[derive(Clone, Copy, Debug)]
pub(super) struct Rounds<'a> {
    pub(super) setting: Setting<'a>,
    /// Which hand comes first.
    pub(super) order: Order,
    /// What a round keeps to.
    pub(super) terms: RoundTerms,
    /// How children get on.
    pub(super) rates: ClassRates,
}

/// What the visits of one meeting came to.
#[derive(Clone, Debug, Default)]
pub(super) struct Visited {
    /// Seconds they took.
    pub(super) seconds: u32,
    /// Meetings from each slip to the look that found it.
    pub(super) delays: Vec<u32>,
}

impl Rounds<'_> {
    /// What could be looked at when a meeting begins.
    pub(super) fn read(&self, player: &mut Player<'_>, meeting: u32) -> Arc<Reading> {
        player.reading(&self.setting, self.order, &self.terms, meeting)
    }

    /// A meeting begins for one child: class teaching, and the beginning of its list.
    pub(super) fn begins(&self, player: &mut Player<'_>, meeting: u32, chance: &mut Chance<'_>) -> Arc<Reading> {
        let read = self.read(player, meeting);
        player.goes_on_in(&read.open, meeting, &self.rates, chance);
        read
    }

    /// Whom to visit, and how far down the list.
    pub(super) fn planned(&self, players: &[Player<'_>], asked: &[Arc<Reading>], meeting: u32) -> Vec<(usize, usize)> {
        let child = |(place, (player, asked)): (u32, (&Player<'_>, &Arc<Reading>))| {
            let unseen = meeting.saturating_sub(player.last_visit);
            PlanChild {
                seat_order: place,
                absent: false,
                meetings_unseen: unseen,
                visit_points: visit_points(unseen),
                checks: asked.wanted.iter().map(|wanted| wanted.plan).collect(),
            }
        };
        let children: Vec<PlanChild> = (0..).zip(players.iter().zip(asked)).map(child).collect();
        self.terms.plan(&children).stops.into_iter().map(|stop| (stop.child, stop.checks)).collect()
    }

    /// These visits, in order; `witness` is there before each look.
    pub(super) fn visit(
        &self,
        players: &mut [Player<'_>],
        asked: &[Arc<Reading>],
        visits: &[(usize, usize)],
        meeting: u32,
        chance: &mut Chance<'_>,
        mut witness: impl FnMut(usize, &Player<'_>, &Target),
    ) -> Visited {
        let calendar = self.setting.calendar;
        let at = calendar.begins(calendar.date_of(meeting).unwrap_or_default());
        let mut visited = Visited::default();
        for (child, checks) in visits {
            visited.seconds += self.terms.visit_seconds;
            for wanted in &asked[*child].wanted[..*checks] {
                visited.seconds += wanted.plan.seconds;
                witness(*child, &players[*child], &wanted.target);
                let found = players[*child].look(&wanted.target, (at, meeting), &self.setting, &self.rates, chance);
                visited.delays.extend(found.into_iter().map(|found| found.delay));
            }
        }
        visited
    }
}
