//! How fast a class gets on, estimated from its observations: what is looked at and rises, and what stood and slips.
//!
//! Two looks at the same checkpoint say how many levels it rose in so many meetings. In the model of [`crate::round::play`]
//! that is one chance by the look and one chance at each meeting, until Alone. Each strand's chances have a Beta distribution
//! before anything was seen; what was seen makes some of them likelier, on a grid, since the two chances are only seen together.

use std::collections::BTreeMap;

use crate::craft::checklist::Checklist;
use crate::craft::id::Target;
use crate::craft::level::Level;
use crate::craft::strand::Strand;
use crate::progress::calendar::MeetingCalendar;
use crate::progress::observation::{Observation, Observed, Via, in_force};
use crate::progress::rhythm::REACHES;
use crate::round::play::Chance;
use crate::round::rates::{ClassRates, Rates};

/// Longer gaps between two looks count as this many meetings.
const LONGEST_GAP: u32 = 40;
/// A Beta distribution, by its two counts.
type Beta = (f64, f64);
/// Class teaching, before anything was seen: a fifth on the mean.
const BASE: Beta = (2.5, 10.0);
/// A look, before anything was seen: a third on the mean.
const COACH: Beta = (7.0, 13.0);
/// A slip, before anything was seen: one in fifty on the mean.
const SLIP: Beta = (2.0, 98.0);
/// Steps of the grid for each chance.
const STEPS: u32 = 16;
/// The paces that a child may have: the middles of ten equal parts of 0.6 to 1.5.
const PACES: u32 = 10;

/// Two looks at something that was below Alone.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
struct Rise {
    /// Levels from the first look to Alone.
    most: u32,
    /// Meetings between the two.
    meetings: u32,
    /// Whether the first was a visit, which helps by itself.
    helped: bool,
    /// Levels that it rose, up to Alone.
    levels: u32,
}

/// What the observations of one child, or of many, say of one strand.
#[derive(Clone, Debug, Default, PartialEq)]
struct OfStrand {
    rises: BTreeMap<Rise, u32>,
    /// Slips that were found.
    slips: u32,
    /// Meetings during which something stood, each divided by one more than its Lasting in a row.
    stood: f64,
}

/// What the observations of one child, or of many, say of how it gets on.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Evidence([OfStrand; Strand::ALL.len()]);

/// The last look at a checkpoint.
#[derive(Clone, Copy)]
struct Last {
    meeting: u32,
    level: Level,
    visit: bool,
    lasting_run: u32,
}

/// The chance at pace `pace`, at most 1.
fn at_pace(chance: f64, pace: f64) -> f64 {
    (chance * pace).min(1.0)
}

impl Rise {
    /// How likely this is at these chances: those of one look and of so many meetings, until Alone.
    fn likelihood(self, base: f64, coach: f64) -> f64 {
        let coach = if self.helped { coach } else { 0.0 };
        let exactly = |levels: u32| {
            let by_meetings = |levels: u32| binomial(self.meetings, levels, base);
            let with_help = levels.checked_sub(1).map_or(0.0, by_meetings);
            (1.0 - coach) * by_meetings(levels) + coach * with_help
        };
        if self.levels < self.most { exactly(self.levels) } else { 1.0 - (0..self.most).map(exactly).sum::<f64>() }
    }
}

/// The chance of exactly `hits` in so many tries.
fn binomial(tries: u32, hits: u32, chance: f64) -> f64 {
    if hits > tries {
        return 0.0;
    }
    let ways: f64 = (0..hits).map(|hit| f64::from(tries - hit) / f64::from(hit + 1)).product();
    let power = |base: f64, times: u32| base.powi(i32::try_from(times).unwrap_or(i32::MAX));
    ways * power(chance, hits) * power(1.0 - chance, tries - hits)
}

impl Evidence {
    /// What one child's observations say, in any order.
    #[must_use]
    pub fn of(checklist: &Checklist, observations: &[Observation], calendar: &MeetingCalendar) -> Self {
        let mut evidence = Self::default();
        let mut last: Vec<Option<Last>> = vec![None; checklist.checkpoints().len()];
        for observation in in_force(observations) {
            let meeting = calendar.meeting_at(observation.observed_at);
            let visit = observation.via == Via::Visit;
            match (&observation.target, &observation.seen) {
                (Target::Checkpoint(id), Observed::Level { level, .. }) => {
                    let Some(place) = checklist.place(id.as_str()) else { continue };
                    let strand = checklist.strand_of(&checklist.checkpoints()[place]);
                    let by_scan = observation.via == Via::Scan && *level >= REACHES;
                    evidence.look(strand, &mut last[place], (meeting, *level), visit, by_scan);
                }
                (Target::Stage(id), Observed::Holds { except }) => {
                    let Some(stage) = checklist.stage_place(id) else { continue };
                    let strand = checklist.stages()[stage].strand;
                    for place in checklist.places_of(stage) {
                        if !except.contains(&checklist.checkpoints()[place].id) {
                            evidence.look(strand, &mut last[place], (meeting, REACHES), visit, true);
                        }
                    }
                }
                _ => {}
            }
        }
        evidence
    }

    /// One more look; one that only confirms says nothing of what did not stand.
    fn look(&mut self, strand: Strand, last: &mut Option<Last>, now: (u32, Level), visit: bool, confirms: bool) {
        let (meeting, level) = now;
        let here = &mut self.0[strand.place()];
        let Some(before) = *last else {
            if !confirms {
                *last = Some(Last { meeting, level, visit, lasting_run: 0 });
            }
            return;
        };
        let meetings = meeting.saturating_sub(before.meeting).min(LONGEST_GAP);
        if before.level >= REACHES {
            here.stood += f64::from(meetings) / f64::from(1 + before.lasting_run);
            here.slips += u32::from(level < REACHES);
        } else if confirms {
            return;
        } else {
            let number = |level: Level| u32::from(level.number());
            let most = number(REACHES) - number(before.level);
            let levels = number(level).saturating_sub(number(before.level)).min(most);
            *here.rises.entry(Rise { most, meetings, helped: before.visit, levels }).or_default() += 1;
        }
        let level = if confirms { before.level } else { level };
        let lasting_run = if level == Level::Lasting { before.lasting_run + 1 } else { 0 };
        *last = Some(Last { meeting, level, visit, lasting_run });
    }

    /// Both together.
    pub fn add(&mut self, other: &Self) {
        for (here, other) in self.0.iter_mut().zip(&other.0) {
            here.slips += other.slips;
            here.stood += other.stood;
            for (rise, count) in &other.rises {
                *here.rises.entry(*rise).or_default() += count;
            }
        }
    }

    /// How likely each pace of a child with this evidence is in a class with these rates: pairs of pace and share.
    #[must_use]
    pub fn paces(&self, rates: &ClassRates) -> Vec<(f64, f64)> {
        let paces = paces();
        let logs = paces.iter().map(|pace| {
            let of_strand = |strand: Strand| {
                let (here, rates) = (&self.0[strand.place()], rates.of(strand));
                let rose = here.log_likelihood(at_pace(rates.base, *pace), at_pace(rates.coach, *pace));
                rose + here.log_of_slips(at_pace(rates.slip, 1.0 / pace))
            };
            Strand::ALL.into_iter().map(of_strand).sum::<f64>()
        });
        paces.iter().copied().zip(shares(&logs.collect::<Vec<_>>())).collect()
    }

    /// What a whole class's evidence says of its rates.
    #[must_use]
    pub fn rates(&self) -> RatesLikely {
        RatesLikely(Strand::ALL.map(|strand| self.0[strand.place()].likely()))
    }
}

impl OfStrand {
    fn log_likelihood(&self, base: f64, coach: f64) -> f64 {
        let log =
            |(rise, count): (&Rise, &u32)| f64::from(*count) * rise.likelihood(base, coach).max(f64::MIN_POSITIVE).ln();
        self.rises.iter().map(log).sum()
    }

    fn log_of_slips(&self, slip: f64) -> f64 {
        let held = (self.stood - f64::from(self.slips)).max(0.0);
        f64::from(self.slips) * slip.max(f64::MIN_POSITIVE).ln() + held * (1.0 - slip).max(f64::MIN_POSITIVE).ln()
    }

    /// The same for a child whose pace is not known: the mean over all paces.
    fn log_at_any_pace(&self, base: f64, coach: f64) -> f64 {
        let paces = paces();
        let log = |(rise, count): (&Rise, &u32)| {
            let at = |pace: &f64| rise.likelihood(at_pace(base, *pace), at_pace(coach, *pace));
            let mean = paces.iter().map(at).sum::<f64>() / f64::from(PACES);
            f64::from(*count) * mean.max(f64::MIN_POSITIVE).ln()
        };
        self.rises.iter().map(log).sum()
    }

    fn likely(&self) -> StrandLikely {
        let steps = || (0..STEPS).map(|step| (f64::from(step) + 0.5) / f64::from(STEPS));
        // Chances are small more often than large: the grid is finer there.
        let bases: Vec<f64> = steps().map(|step| 0.7 * step * step).collect();
        let coaches: Vec<f64> = steps().map(|step| 0.9 * step).collect();
        let mut rises = Vec::with_capacity(bases.len() * coaches.len());
        let mut logs = Vec::with_capacity(rises.capacity());
        for base in &bases {
            for coach in &coaches {
                rises.push((*base, *coach));
                // A cell of the finer part is smaller: its share is less by as much.
                let width = base.sqrt().ln();
                logs.push(
                    self.log_at_any_pace(*base, *coach) + log_beta(*base, BASE) + log_beta(*coach, COACH) + width,
                );
            }
        }
        let slips: Vec<f64> = steps().map(|step| 0.25 * step * step).collect();
        let log_slips: Vec<f64> =
            slips.iter().map(|slip| self.log_of_slips(*slip) + log_beta(*slip, SLIP) + slip.sqrt().ln()).collect();
        StrandLikely {
            rises: rises.into_iter().zip(shares(&logs)).collect(),
            slips: slips.into_iter().zip(shares(&log_slips)).collect(),
        }
    }
}

fn paces() -> Vec<f64> {
    (0..PACES).map(|part| 0.6 + 0.9 * (f64::from(part) + 0.5) / f64::from(PACES)).collect()
}

/// The logarithm of a Beta density, but for a constant.
fn log_beta(chance: f64, (hits, misses): Beta) -> f64 {
    (hits - 1.0) * chance.ln() + (misses - 1.0) * (1.0 - chance).ln()
}

/// Shares that sum to 1, from logarithms.
fn shares(logs: &[f64]) -> Vec<f64> {
    let most = logs.iter().copied().fold(f64::NEG_INFINITY, f64::max);
    let parts: Vec<f64> = logs.iter().map(|log| (log - most).exp()).collect();
    let sum: f64 = parts.iter().sum();
    parts.into_iter().map(|part| part / sum).collect()
}

/// One of several, each as likely as its share.
pub(super) fn drawn<T: Copy>(from: &[(T, f64)], chance: &mut Chance<'_>) -> Option<T> {
    let mut left = chance();
    let found = from.iter().find(|(_, share)| {
        left -= share;
        left < 0.0
    });
    found.or(from.last()).map(|(one, _)| *one)
}

/// The likely chances of one strand.
#[derive(Clone, Debug, PartialEq)]
struct StrandLikely {
    /// Class teaching and look, with the share of each pair.
    rises: Vec<((f64, f64), f64)>,
    slips: Vec<(f64, f64)>,
}

/// How likely which rates of a class are.
#[derive(Clone, Debug, PartialEq)]
pub struct RatesLikely([StrandLikely; Strand::ALL.len()]);

impl RatesLikely {
    /// The mean of each.
    #[must_use]
    pub fn mean(&self) -> ClassRates {
        ClassRates::new(|strand| {
            let here = &self.0[strand.place()];
            let of = |value: fn((f64, f64)) -> f64| here.rises.iter().map(|(both, share)| value(*both) * share).sum();
            let slip = here.slips.iter().map(|(slip, share)| slip * share).sum();
            Rates { base: of(|(base, _)| base), coach: of(|(_, coach)| coach), slip }
        })
    }

    /// Rates of a class as likely as its evidence says.
    #[must_use]
    pub fn drawn(&self, chance: &mut Chance<'_>) -> ClassRates {
        ClassRates::new(|strand| {
            let here = &self.0[strand.place()];
            let (base, coach) = drawn(&here.rises, chance).unwrap_or_default();
            Rates { base, coach, slip: drawn(&here.slips, chance).unwrap_or_default() }
        })
    }
}
