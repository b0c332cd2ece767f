//! A lesson: drills that the class is ready for, as timed blocks with a round in between.

use std::collections::BTreeMap;

use crate::checklist::{Checklist, StageId, Strand};
use crate::instrument::Instrument;
use crate::ladder::StageState;
use crate::priorities::Pupil;
use crate::standing::PASSES;

/// Somebody who holds up or presses rests after so many seconds.
pub const REST_AFTER_SECONDS: u32 = 120;
/// A drill is proposed once so many of a hundred children are ready for it.
pub const READY_PERCENT: usize = 65;
/// At most so many aims.
pub const AIMS_MOST: usize = 3;
/// Minutes of a lesson.
pub const SHORTEST: u32 = 10;
/// Minutes of a lesson.
pub const LONGEST: u32 = 120;

/// One thing that everybody does at once.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Step {
    /// Beats it takes.
    pub count: u32,
    /// What to do, on each instrument.
    pub text: BTreeMap<Instrument, String>,
}

/// Something that the whole class does together.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Drill {
    /// `pluck-across`.
    pub id: String,
    /// What it is called.
    pub name: String,
    /// What it is for.
    pub strand: Strand,
    /// The stage that has to be passed before; none: from the first day.
    pub after: Option<StageId>,
    /// How long it takes.
    pub minutes: u32,
    /// Somebody holds up or presses.
    pub load: bool,
    /// As the child would say it.
    pub aim: String,
    /// In order.
    pub steps: Vec<Step>,
}

/// What differs on an instrument, at a glance.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Glance {
    /// Where the thumb is.
    pub thumb: String,
    /// How the fingers are spaced.
    pub spacing: String,
}

/// Everything that lessons are made from.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Lessons {
    /// In the order in which they come.
    pub drills: Vec<Drill>,
    /// What differs, by instrument.
    pub glances: BTreeMap<Instrument, Glance>,
}

/// A drill with how many are ready for it.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Ready<'a> {
    /// Which.
    pub drill: &'a Drill,
    /// Children who have passed what it comes after.
    pub ready: usize,
    /// Children in all.
    pub of: usize,
}

impl Ready<'_> {
    /// Whether most of the class are ready.
    #[must_use]
    pub fn is_ready(&self) -> bool {
        self.of > 0 && self.ready * 100 >= self.of * READY_PERCENT
    }
}

/// A part of a lesson.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Part {
    /// Tuning, and pins, supports and tapes that are due.
    SetUp,
    /// A drill, by its id.
    Drill(String),
    /// A round.
    Look,
    /// The class's own book and page.
    Book,
    /// A tune by ear.
    Tune,
}

/// A part with its time.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Block {
    /// What.
    pub part: Part,
    /// How long.
    pub minutes: u32,
}

/// Whether a child has passed a stage: every required checkpoint that is asked of it at Prompted or better.
fn passed(pupil: &Pupil<'_>, stage: &StageId) -> bool {
    pupil
        .asked(stage)
        .filter(|checkpoint| checkpoint.required)
        .all(|checkpoint| pupil.standings.get(&checkpoint.id).is_some_and(|standing| standing.level >= PASSES))
}

/// Whether a child has nothing left to learn in a strand.
fn done(pupil: &Pupil<'_>, checklist: &Checklist, strand: Strand) -> bool {
    let views = checklist.stages().iter().zip(&pupil.ladder.stages).filter(|(stage, _)| stage.strand == strand);
    views.into_iter().all(|(_, view)| matches!(view.state, StageState::Reached | StageState::Settled))
}

impl Lessons {
    /// The drill of an id.
    #[must_use]
    pub fn drill(&self, id: &str) -> Option<&Drill> {
        self.drills.iter().find(|drill| drill.id == id)
    }

    /// Every drill with how many of the class are ready for it.
    #[must_use]
    pub fn ready(&self, class: &[Pupil<'_>]) -> Vec<Ready<'_>> {
        let ready = |drill: &Drill| {
            class.iter().filter(|pupil| drill.after.as_ref().is_none_or(|after| passed(pupil, after))).count()
        };
        self.drills.iter().map(|drill| Ready { drill, ready: ready(drill), of: class.len() }).collect()
    }

    /// A lesson of `minutes`, whose blocks take exactly that: tuning and set-up, the furthest drill that most are ready for
    /// in each strand that some still learn, a round, the book, a tune. Short lessons have fewer drills.
    #[must_use]
    pub fn propose(&self, minutes: u32, class: &[Pupil<'_>], checklist: &Checklist) -> Vec<Block> {
        let minutes = minutes.clamp(SHORTEST, LONGEST);
        let ready = self.ready(class);
        let furthest = |strand: Strand| {
            let open = class.iter().any(|pupil| !done(pupil, checklist, strand));
            ready.iter().rev().find(|one| open && one.drill.strand == strand && one.is_ready())
        };
        let drills = [Strand::Hold, Strand::Bow, Strand::Frame].into_iter().filter_map(furthest);
        let set_up = if minutes >= 30 { 5 } else { 2 };
        let look = (minutes / 3).clamp(3, 12);
        let mut left = minutes - set_up - look;
        let mut blocks = vec![Block { part: Part::SetUp, minutes: set_up }];
        for one in drills {
            // The book keeps two minutes at least.
            if one.drill.minutes + 2 <= left {
                left -= one.drill.minutes;
                blocks.push(Block { part: Part::Drill(one.drill.id.clone()), minutes: one.drill.minutes });
            }
        }
        blocks.push(Block { part: Part::Look, minutes: look });
        let tune = left / 3;
        blocks.push(Block { part: Part::Book, minutes: left - tune });
        if tune > 0 {
            blocks.push(Block { part: Part::Tune, minutes: tune });
        }
        blocks
    }
}
