//! A lesson as a director keeps it: blocks with their minutes, and aims.

use serde::{Deserialize, Serialize};

use crate::craft::drills::Lessons;
use crate::lessons::lesson::{LessonBlock, LessonPart, MAX_AIMS, MAX_LESSON_MINUTES};
use crate::worded::worded;

/// The most blocks of a lesson.
pub const MAX_BLOCKS: usize = 20;
/// The longest line on a book, a page or a tune, and the longest aim, in characters.
pub const MAX_LINE_LENGTH: usize = 120;

worded! {
    /// What a block of a lesson is.
    LessonPartKind {
        /// Tuning, and pins, supports and markers that are due.
        SetUp = "setUp",
        /// A drill.
        Drill = "drill",
        /// A round.
        Look = "look",
        /// The class's own book and page.
        Book = "book",
        /// A tune by ear.
        Tune = "tune",
    }
}

/// A part of a lesson with its time.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct PlannedBlock {
    /// What.
    pub kind: LessonPartKind,
    /// 1 to 120.
    pub minutes: u32,
    /// Of a drill its id.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub drill: Option<String>,
    /// Book and page, or the tune; at most 120 characters.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    #[cfg_attr(feature = "schema", schema(required = false))]
    pub line: String,
}

/// A lesson as it is kept.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct LessonPlan {
    /// 1 to 20.
    pub blocks: Vec<PlannedBlock>,
    /// As the children would say them, at most 3.
    pub aims: Vec<String>,
}

/// What of a plan cannot be: the field (`blocks.2.minutes`) and what to do.
pub type PlanFault = (String, String);

impl From<LessonBlock> for PlannedBlock {
    fn from(block: LessonBlock) -> Self {
        let (kind, drill) = match block.part {
            LessonPart::SetUp => (LessonPartKind::SetUp, None),
            LessonPart::Drill(id) => (LessonPartKind::Drill, Some(id)),
            LessonPart::Look => (LessonPartKind::Look, None),
            LessonPart::Book => (LessonPartKind::Book, None),
            LessonPart::Tune => (LessonPartKind::Tune, None),
        };
        Self { kind, minutes: block.minutes, drill, line: String::new() }
    }
}

impl LessonPlan {
    /// A plan of proposed blocks, with the aims of its drills, as many as a lesson has.
    #[must_use]
    pub fn proposed(lessons: &Lessons, blocks: Vec<LessonBlock>) -> Self {
        let blocks: Vec<PlannedBlock> = blocks.into_iter().map(Into::into).collect();
        let drills = blocks.iter().filter_map(|block| lessons.drill(block.drill.as_ref()?));
        let aims = drills.map(|drill| drill.aim.clone()).take(MAX_AIMS).collect();
        Self { blocks, aims }
    }

    /// How long the lesson takes, in minutes.
    #[must_use]
    pub fn minutes(&self) -> u32 {
        self.blocks.iter().fold(0, |sum, block| sum.saturating_add(block.minutes))
    }

    /// Everything of it that cannot be.
    #[must_use]
    pub fn faults(&self, lessons: &Lessons) -> Vec<PlanFault> {
        let mut faults = Vec::new();
        let mut fault = |is: bool, field: &str, words: String| {
            if is {
                faults.push((field.to_owned(), words));
            }
        };
        let many = !(1..=MAX_BLOCKS).contains(&self.blocks.len());
        fault(many, "blocks", format!("1 to {MAX_BLOCKS} blocks."));
        fault(self.aims.len() > MAX_AIMS, "aims", format!("At most {MAX_AIMS} aims."));
        let long = |text: &String| text.chars().count() > MAX_LINE_LENGTH || text.contains('\0');
        fault(self.aims.iter().any(long), "aims", format!("At most {MAX_LINE_LENGTH} characters each."));
        for (index, block) in self.blocks.iter().enumerate() {
            let field = |name: &str| format!("blocks.{index}.{name}");
            let minutes = !(1..=MAX_LESSON_MINUTES).contains(&block.minutes);
            fault(minutes, &field("minutes"), format!("1 to {MAX_LESSON_MINUTES} minutes."));
            fault(long(&block.line), &field("line"), format!("At most {MAX_LINE_LENGTH} characters."));
            let known = block.drill.as_ref().is_some_and(|id| lessons.drill(id).is_some());
            let unfit = if block.kind == LessonPartKind::Drill { !known } else { block.drill.is_some() };
            fault(unfit, &field("drill"), "Only a drill has one, and one that is there.".to_owned());
        }
        faults
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn block(kind: LessonPartKind, minutes: u32) -> PlannedBlock {
        PlannedBlock { kind, minutes, drill: None, line: String::new() }
    }

    fn fields(plan: &LessonPlan) -> Vec<String> {
        plan.faults(&Lessons::default()).into_iter().map(|(field, _)| field).collect()
    }

    #[test]
    fn a_plan_that_can_be_has_no_fault_and_its_minutes_add_up() {
        let blocks = vec![block(LessonPartKind::SetUp, 8), block(LessonPartKind::Book, 12)];
        let plan = LessonPlan { blocks, aims: vec!["I find my place".to_owned()] };
        assert_eq!((fields(&plan), plan.minutes()), (Vec::new(), 20));
    }

    #[test]
    fn everything_that_cannot_be_is_said_by_its_field() {
        let drill = PlannedBlock { drill: Some("none".to_owned()), ..block(LessonPartKind::Drill, 5) };
        let long = PlannedBlock { line: "x".repeat(MAX_LINE_LENGTH + 1), ..block(LessonPartKind::Book, 0) };
        let aims = vec!["a\0b".to_owned(); MAX_AIMS + 1];
        let plan = LessonPlan { blocks: vec![drill, long], aims };
        assert_eq!(fields(&plan), ["aims", "aims", "blocks.0.drill", "blocks.1.minutes", "blocks.1.line"]);
        let none = LessonPlan { blocks: Vec::new(), aims: Vec::new() };
        assert_eq!(fields(&none), ["blocks"]);
        let many = LessonPlan { blocks: vec![block(LessonPartKind::Tune, u32::MAX); MAX_BLOCKS + 1], aims: Vec::new() };
        assert_eq!(many.minutes(), u32::MAX, "sums that would burst stop at the top");
        assert_eq!(fields(&many)[0], "blocks");
    }
}
