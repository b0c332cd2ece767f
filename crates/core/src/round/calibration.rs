//! Whether the bands of a forecast hold what they say: a class is played for a while, its meetings to come are forecast from
//! what was observed, and it is played on to see where it really comes.

use chrono::Duration;
use uuid::Uuid;

use crate::craft::instrument::Playing;
use crate::progress::context::ChildContext;
use crate::progress::observation::{Observation, Via};
use crate::progress::standing::standings;
use crate::round::bands::{Ahead, Band};
use crate::round::class_rates::Evidence;
use crate::round::forecast::{Class, Forecast, Prospect};
use crate::round::milestones::Milestone;
use crate::round::play::{Chance, Player};
use crate::round::rehearsal::{Play, Policy, section};

/// How the truth lay to the bands: of those that end before the last meeting, so many.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Calibration {
    /// It lay in the band.
    pub held: u32,
    /// It came before.
    pub before: u32,
    /// It came after.
    pub after: u32,
    /// The widths of the bands together, in meetings.
    pub meetings: u32,
}

impl Calibration {
    /// Both together.
    #[must_use]
    pub fn and(self, other: Self) -> Self {
        Self {
            held: self.held + other.held,
            before: self.before + other.before,
            after: self.after + other.after,
            meetings: self.meetings + other.meetings,
        }
    }

    /// All bands.
    #[must_use]
    pub fn all(self) -> u32 {
        self.held + self.before + self.after
    }

    fn add(&mut self, band: Band<Option<u32>>, truth: Option<u32>) {
        let Some(last) = band.high else { return };
        let first = band.low.unwrap_or(last);
        self.meetings += last - first;
        match truth {
            Some(at) if at < first => self.before += 1,
            Some(at) if at <= last => self.held += 1,
            _ => self.after += 1,
        }
    }
}

/// A class that is played, with everything that was observed.
struct Played<'a> {
    players: Vec<Player<'a>>,
    observations: Vec<Vec<Observation>>,
}

impl Play<'_> {
    /// Plays a class of so many children with rounds as the application plans them, forecasts after meeting `after` with so many
    /// runs, plays on to the last meeting, and says how the bands held.
    #[must_use]
    pub fn calibrate(&self, children: usize, after: u32, runs: u32, chance: &mut Chance<'_>) -> Calibration {
        let playing: Vec<Playing> = (0..children).map(|place| section(place).into()).collect();
        let context = ChildContext::default();
        let mut players = Vec::with_capacity(children);
        for playing in &playing {
            players.push(Player::new(self.checklist, playing, &context, 0.6 + 0.9 * chance()));
        }
        let mut class = Played { players, observations: vec![Vec::new(); children] };
        for meeting in 1..=after {
            self.played_on(&mut class, meeting, chance);
        }
        let (milestones, ahead) = self.forecast(&class, after, runs, chance);
        let mut truth = vec![None; milestones.len()];
        for meeting in after + 1..=self.meetings {
            self.played_on(&mut class, meeting, chance);
            self.note_truth(&mut class.players, &milestones, &mut truth, meeting);
        }
        let mut calibration = Calibration::default();
        for (band, truth) in ahead.reached.into_iter().zip(truth) {
            calibration.add(band, truth);
        }
        calibration
    }

    fn played_on(&self, class: &mut Played<'_>, meeting: u32, chance: &mut Chance<'_>) {
        let rounds = self.rounds(Policy::Next);
        let asked: Vec<_> = class.players.iter_mut().map(|player| rounds.begins(player, meeting, chance)).collect();
        let visits = rounds.planned(&class.players, &asked, meeting);
        let begins = self.calendar.begins(self.calendar.date_of(meeting).unwrap_or_default());
        let Played { players, observations } = class;
        let _ = rounds.visit(players, &asked, &visits, meeting, chance, |child, player, target| {
            for (target, seen) in player.finds(target) {
                let number = observations[child].len();
                let at = begins + Duration::seconds(i64::try_from(number).unwrap_or_default());
                observations[child].push(Observation {
                    // Within one child only: nothing else reads these.
                    id: Uuid::from_u128(u128::try_from(number).unwrap_or_default()).into(),
                    child: Uuid::nil().into(),
                    target,
                    seen,
                    says: None,
                    note: None,
                    via: Via::Visit,
                    observed_at: at,
                    recorded_at: at,
                    observer: Uuid::nil().into(),
                    round: None,
                });
            }
        });
    }

    /// What the application would say of the meetings to come.
    fn forecast(&self, played: &Played<'_>, now: u32, runs: u32, chance: &mut Chance<'_>) -> (Vec<Milestone>, Ahead) {
        let stand =
            |observations: &Vec<Observation>| standings(self.checklist, observations, self.calendar, self.rhythm);
        let standings: Vec<_> = played.observations.iter().map(stand).collect();
        let prospects = played.players.iter().zip(&standings).zip(&played.observations);
        let prospects: Vec<Prospect<'_>> = prospects
            .map(|((player, standings), observations)| Prospect {
                checklist: self.checklist,
                playing: player.playing,
                context: player.context,
                standings,
                last_visit: player.last_visit,
                joined: 0,
                evidence: Evidence::of(self.checklist, observations, self.calendar),
            })
            .collect();
        let class = Class {
            calendar: self.calendar,
            rhythm: self.rhythm,
            causes: self.causes,
            order: self.order,
            visit_seconds: self.terms.visit_seconds,
            max_checks_per_child: self.terms.max_checks_per_child,
            must_see_after_meetings: self.terms.must_see_after_meetings,
        };
        let forecast = Forecast::new(class, &prospects, *self.rhythm, now, self.meetings.saturating_sub(now));
        let seconds = self.terms.seconds_available;
        let runs: Vec<_> = (0..runs).filter_map(|_| forecast.run(&|_| seconds, &|| false, chance)).collect();
        (forecast.milestones().to_vec(), Ahead::of(&runs))
    }

    fn note_truth(
        &self,
        players: &mut [Player<'_>],
        milestones: &[Milestone],
        truth: &mut [Option<u32>],
        meeting: u32,
    ) {
        let rounds = self.rounds(Policy::Next);
        let read: Vec<_> = players.iter_mut().map(|player| rounds.read(player, meeting + 1)).collect();
        for (milestone, truth) in milestones.iter().zip(truth).filter(|(_, truth)| truth.is_none()) {
            let children = players.iter().zip(&read);
            let children = children.map(|(player, read)| (player.playing.now, player.checklist, &**read));
            *truth = milestone.is_reached(children).then_some(meeting);
        }
    }
}
