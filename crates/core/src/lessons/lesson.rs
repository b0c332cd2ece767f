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
    /// Children who play its instruments.
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
pub(crate) fn passed(pupil: &Pupil<'_>, stage: &StageId) -> bool {
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
    /// Every drill with how many of the class are ready for it.
    #[must_use]
    pub fn ready(&self, class: &[Pupil<'_>]) -> Vec<DrillReadiness<'_>> {
        let of = |drill: &Drill| {
            let players = class.iter().filter(|pupil| drill.instruments.contains(&pupil.instrument));
            let ready = players.clone().filter(|pupil| drill.after.as_ref().is_none_or(|after| passed(pupil, after)));
            (ready.count(), players.count())
        };
        let ready = self.drills.iter().map(|drill| (drill, of(drill)));
        ready.map(|(drill, (ready, of))| DrillReadiness { drill, ready, of }).collect()
    }

    /// The drills to choose from in a strand: those everybody plays and most are ready for, after the furthest stage; where the
    /// class's options prefer some of them, only these.
    fn furthest<'a>(
        ready: &'a [DrillReadiness<'_>],
        strand: Strand,
        class: &[Pupil<'_>],
        checklist: &Checklist,
    ) -> Vec<&'a DrillReadiness<'a>> {
        let stage = |drill: &Drill| {
            let after = drill.after.as_ref()?;
            checklist.stages().iter().position(|stage| stage.id == *after)
        };
        let for_all = |one: &&DrillReadiness<'_>| one.drill.strand == strand && one.of == class.len() && one.is_ready();
        let fit: Vec<_> = ready.iter().filter(for_all).collect();
        let last = fit.iter().map(|one| stage(one.drill)).max();
        let of_stage: Vec<_> = fit.into_iter().filter(|one| Some(stage(one.drill)) == last).collect();
        let preferred: Vec<_> = of_stage.iter().filter(|one| one.drill.prefer.is_some()).copied().collect();
        if preferred.is_empty() { of_stage } else { preferred }
    }

    /// A lesson of `minutes`, whose blocks take exactly that: tuning and set-up, in each strand that some still learn one of the
    /// furthest drills that most are ready for, a round, the book, a tune. From one `meeting` (its number) to the next the
    /// drills of a stage take turns. Short lessons have fewer drills.
    #[must_use]
    pub fn propose(
        &self,
        minutes: u32,
        meeting: usize,
        class: &[Pupil<'_>],
        checklist: &Checklist,
    ) -> Vec<LessonBlock> {
        let minutes = minutes.clamp(MIN_LESSON_MINUTES, MAX_LESSON_MINUTES);
        let ready = self.ready(class);
        let in_turn = |strand: Strand| {
            let open = class.iter().any(|pupil| !done(pupil, checklist, strand));
            let choice = if open { Self::furthest(&ready, strand, class, checklist) } else { Vec::new() };
            (!choice.is_empty()).then(|| choice[meeting % choice.len()].drill)
        };
        let drills = [Strand::Hold, Strand::Bow, Strand::Frame].into_iter().filter_map(in_turn);
        let set_up = if minutes >= 30 { 5 } else { 2 };
        let look = (minutes / 3).clamp(3, 12);
        let mut left = minutes - set_up - look;
        let mut blocks = vec![LessonBlock { part: LessonPart::SetUp, minutes: set_up }];
        for drill in drills {
            let minutes = drill.minutes();
            // The book keeps two minutes at least.
            if minutes + 2 <= left {
                left -= minutes;
                blocks.push(LessonBlock { part: LessonPart::Drill(drill.id.clone()), minutes });
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
