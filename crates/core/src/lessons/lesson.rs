//! A lesson: drills that the class is ready for, as timed blocks with a round in between.

use crate::craft::drills::Drill;
use crate::craft::drills::Lessons;

use crate::craft::checklist::Checklist;
use crate::craft::id::StageId;
use crate::craft::strand::Strand;
use crate::progress::ladder::{Ladder, StageState};
use crate::progress::pupil::Pupil;
use crate::progress::rhythm::{PASSES, Recheck};

/// Somebody who holds up or presses rests after so many seconds.
pub const REST_AFTER_SECONDS: u32 = 120;
/// A drill is proposed once so many of a hundred children are ready for it.
pub const READY_PERCENT: usize = 65;
/// At most so many aims.
pub const MAX_AIMS: usize = 3;
/// Minutes of a lesson.
pub const MIN_LESSON_MINUTES: u32 = 10;
/// Minutes of a lesson.
pub const MAX_LESSON_MINUTES: u32 = 120;

/// A drill with how many are ready for it.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct DrillReadiness<'a> {
    /// Which.
    pub drill: &'a Drill,
    /// Children who have passed what it comes after.
    pub ready: usize,
    /// Children in all.
    pub of: usize,
}

impl DrillReadiness<'_> {
    /// Whether most of the class are ready.
    #[must_use]
    pub fn is_ready(&self) -> bool {
        self.of > 0 && self.ready * 100 >= self.of * READY_PERCENT
    }
}

/// A part of a lesson.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum LessonPart {
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
pub struct LessonBlock {
    /// What.
    pub part: LessonPart,
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
    pub fn ready(&self, class: &[Pupil<'_>]) -> Vec<DrillReadiness<'_>> {
        let ready = |drill: &Drill| {
            class.iter().filter(|pupil| drill.after.as_ref().is_none_or(|after| passed(pupil, after))).count()
        };
        self.drills.iter().map(|drill| DrillReadiness { drill, ready: ready(drill), of: class.len() }).collect()
    }

    /// A lesson of `minutes`, whose blocks take exactly that: tuning and set-up, the furthest drill that most are ready for
    /// in each strand that some still learn, a round, the book, a tune. Short lessons have fewer drills.
    #[must_use]
    pub fn propose(&self, minutes: u32, class: &[Pupil<'_>], checklist: &Checklist) -> Vec<LessonBlock> {
        let minutes = minutes.clamp(MIN_LESSON_MINUTES, MAX_LESSON_MINUTES);
        let ready = self.ready(class);
        let furthest = |strand: Strand| {
            let open = class.iter().any(|pupil| !done(pupil, checklist, strand));
            ready.iter().rev().find(|one| open && one.drill.strand == strand && one.is_ready())
        };
        let drills = [Strand::Hold, Strand::Bow, Strand::Frame].into_iter().filter_map(furthest);
        let set_up = if minutes >= 30 { 5 } else { 2 };
        let look = (minutes / 3).clamp(3, 12);
        let mut left = minutes - set_up - look;
        let mut blocks = vec![LessonBlock { part: LessonPart::SetUp, minutes: set_up }];
        for one in drills {
            // The book keeps two minutes at least.
            if one.drill.minutes + 2 <= left {
                left -= one.drill.minutes;
                blocks.push(LessonBlock { part: LessonPart::Drill(one.drill.id.clone()), minutes: one.drill.minutes });
            }
        }
        blocks.push(LessonBlock { part: LessonPart::Look, minutes: look });
        let tune = left / 3;
        blocks.push(LessonBlock { part: LessonPart::Book, minutes: left - tune });
        if tune > 0 {
            blocks.push(LessonBlock { part: LessonPart::Tune, minutes: tune });
        }
        blocks
    }
}

/// The stage at which size, pin and support are looked at.
const SUPPORT_STAGE: &str = "hold.1";

/// Whether a child's pin and support want a look before the lesson: nobody has looked yet, or the look is due.
#[must_use]
pub fn support_is_due(pupil: &Pupil<'_>) -> bool {
    let stage = StageId::new(SUPPORT_STAGE);
    let view = pupil.ladder.stages.iter().find(|view| view.stage == stage);
    let never = pupil.checklist.checkpoints_of(&stage).all(|found| !pupil.standings.contains_key(&found.id));
    never || view.and_then(|view| view.recheck).is_some_and(Recheck::is_due)
}

/// Whether a child's markers want a look before the lesson: they are in trouble, or the look is due.
#[must_use]
pub fn tapes_are_due(ladder: &Ladder) -> bool {
    ladder.tapes.trouble.is_some() || ladder.tapes.recheck.is_some_and(Recheck::is_due)
}
