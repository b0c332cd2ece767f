//! The lesson of a meeting: proposed from what the class is ready for, changed and kept by the director.

use std::collections::BTreeMap;

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use bright_row_core::craft::id::StageId;
use bright_row_core::craft::instrument::{Instrument, InstrumentFacts};
use bright_row_core::lessons::lesson::{
    DrillReadiness, LessonBlock, LessonPart, MAX_AIMS, MAX_LESSON_MINUTES, MIN_LESSON_MINUTES, REST_AFTER_SECONDS,
};
use bright_row_core::lessons::notes::{FIRST_NOTES, FirstNote, Stop};
use bright_row_core::progress::rhythm::Recheck;
use bright_row_store::lessons;
use chrono::NaiveDate;
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};

use crate::extract::{Body, DayInPath, Query};
use crate::routes::lessons::overview::ChildName;
use crate::routes::tapes::note_map::TuneName;
use crate::error::{ApiError, FieldError, ForDirectorsWriting, ForMembers};
use crate::use_cases::snapshot::{Learner, ClassSnapshot};
use crate::routes::views::{InstrumentView, StrandKey};
use crate::state::App;
use crate::auth::guard::{Director, Member};

/// Minutes of a lesson, until one was kept.
const USUAL_MINUTES: u32 = 40;
/// The most blocks.
const MOST_BLOCKS: usize = 20;
/// The longest line on a book, a page or a tune, and the longest aim.
const LONGEST_LINE: usize = 120;

/// What a block is.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub enum PartKind {
    /// Tuning, and pins, supports and tapes that are due.
    SetUp,
    /// A drill.
    Drill,
    /// A round.
    Look,
    /// The class's own book and page.
    Book,
    /// A tune by ear.
    Tune,
}

/// A part of a lesson with its time.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct BlockView {
    kind: PartKind,
    /// 1 to 120.
    minutes: u32,
    /// Of a drill its id.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    drill: Option<String>,
    /// Book and page, or the tune; at most 120 characters.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    #[schema(required = false)]
    line: String,
}

/// A lesson as it is kept.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct LessonPlan {
    /// 1 to 20.
    blocks: Vec<BlockView>,
    /// As the children would say them, at most 3.
    aims: Vec<String>,
}

/// A drill with how many are ready for it.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct DrillView {
    id: String,
    name: String,
    strand: StrandKey,
    minutes: u32,
    /// Somebody holds up or presses: rest in between.
    load: bool,
    aim: String,
    /// Children who have passed what it comes after.
    ready: usize,
    of: usize,
    steps: Vec<DrillStep>,
}

/// One thing that everybody does at once.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct DrillStep {
    /// Beats.
    count: u32,
    /// By instrument, the four in order.
    texts: Vec<InstrumentText>,
}

/// What to do on an instrument.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct InstrumentText {
    instrument: InstrumentView,
    text: String,
}

/// What differs on an instrument, at a glance.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct GlanceView {
    instrument: InstrumentView,
    thumb: String,
    spacing: String,
    /// How the first notes are made there.
    notes: Vec<NoteView>,
}

/// How a note is made on an instrument.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct NoteView {
    /// `F sharp on D`.
    name: String,
    /// `2`, `open G`.
    finger: String,
}

/// What the next lesson is made from.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct LessonView {
    /// The meeting it is for; absent past the calendar's end.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    day: Option<NaiveDate>,
    minutes: u32,
    /// Kept for that day; absent until then.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    kept: Option<LessonPlan>,
    /// As it would be proposed.
    proposed: LessonPlan,
    drills: Vec<DrillView>,
    glances: Vec<GlanceView>,
    /// Whose pin or support is due for a look.
    supports: Vec<ChildName>,
    /// Whose tapes are.
    tapes: Vec<ChildName>,
    /// Tunes that ship, to choose from.
    tunes: Vec<TuneName>,
    rest_after_seconds: u32,
}

/// How long the lesson is.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct LessonQuery {
    /// 10 to 120; as it was kept, or 40.
    minutes: Option<u32>,
}

/// What the next lesson is made from, and how it would be proposed.
#[utoipa::path(get, path = "/api/classes/{class}/lesson", tag = "lessons",
    params(("class" = Uuid, Path, description = "The class"), LessonQuery),
    responses(
        (status = 200, body = LessonView),
        ForMembers,
    ))]
pub async fn lesson(
    State(app): State<App>,
    member: Member,
    Query(asked): Query<LessonQuery>,
) -> Result<Json<LessonView>, ApiError> {
    let class = &member.class;
    let snapshot = ClassSnapshot::new(&app, class);
    let day = class.calendar.next_from(class.calendar.day_of(app.now()));
    let stored = match day {
        Some(day) => lessons::of_day(&app.db, class.key, day).await?,
        None => None,
    };
    // What an older build kept and this one cannot read is proposed anew.
    let kept: Option<LessonPlan> = stored.and_then(|plan| serde_json::from_value(plan).ok());
    let kept_minutes = kept.as_ref().map(|plan| plan.blocks.iter().map(|block| block.minutes).sum());
    let minutes = asked.minutes.or(kept_minutes).unwrap_or(USUAL_MINUTES).clamp(MIN_LESSON_MINUTES, MAX_LESSON_MINUTES);
    let learners = snapshot.learners().await?;
    let pupils: Vec<_> = learners.iter().map(|learner| learner.pupil(&app.content.causes)).collect();
    let content = &app.content.lessons;
    let ready = content.ready(&pupils);
    let blocks = content.propose(minutes, &pupils, &snapshot.checklist);
    let aims: Vec<String> = blocks
        .iter()
        .filter_map(|block| match &block.part {
            LessonPart::Drill(id) => content.drill(id).map(|drill| drill.aim.clone()),
            LessonPart::SetUp | LessonPart::Look | LessonPart::Book | LessonPart::Tune => None,
        })
        .take(MAX_AIMS)
        .collect();
    let glance = |(instrument, glance): (&Instrument, &bright_row_core::craft::drills::Glance)| GlanceView {
        instrument: (*instrument).into(),
        thumb: glance.thumb.clone(),
        spacing: glance.spacing.clone(),
        notes: app.content.instruments.get(instrument).map(first_notes).unwrap_or_default(),
    };
    Ok(Json(LessonView {
        day,
        minutes,
        kept,
        proposed: LessonPlan { blocks: blocks.into_iter().map(Into::into).collect(), aims },
        drills: ready.iter().map(Into::into).collect(),
        glances: content.glances.iter().map(glance).collect(),
        supports: learners.iter().filter(|learner| support_is_due(learner)).map(named).collect(),
        tapes: learners.iter().filter(|learner| tapes_are_due(learner)).map(named).collect(),
        tunes: app.content.tunes.iter().map(Into::into).collect(),
        rest_after_seconds: REST_AFTER_SECONDS,
    }))
}

fn first_notes(facts: &InstrumentFacts) -> Vec<NoteView> {
    let made = |note: FirstNote| {
        let (name, stop) = note.on(facts)?;
        let finger = match stop {
            Stop::Finger(finger) => finger.spoken().to_owned(),
            Stop::Open(string) => format!("open {string}"),
        };
        Some(NoteView { name: format!("{name} on {}", note.string), finger })
    };
    FIRST_NOTES.into_iter().filter_map(made).collect()
}

fn named(learner: &Learner) -> ChildName {
    ChildName::new(learner.child.id, learner.child.name.clone(), learner.child.playing.now.into())
}

/// The stage at which pins and supports are looked at.
fn support_is_due(learner: &Learner) -> bool {
    let fit = StageId::new("hold.1");
    let view = learner.ladder.stages.iter().find(|view| view.stage == fit);
    let never = learner.checklist.checkpoints_of(&fit).all(|found| !learner.standings.contains_key(&found.id));
    never || view.and_then(|view| view.recheck).is_some_and(Recheck::is_due)
}

fn tapes_are_due(learner: &Learner) -> bool {
    let tapes = learner.ladder.tapes;
    tapes.trouble.is_some() || tapes.recheck.is_some_and(Recheck::is_due)
}

impl From<LessonBlock> for BlockView {
    fn from(block: LessonBlock) -> Self {
        let (kind, drill) = match block.part {
            LessonPart::SetUp => (PartKind::SetUp, None),
            LessonPart::Drill(id) => (PartKind::Drill, Some(id)),
            LessonPart::Look => (PartKind::Look, None),
            LessonPart::Book => (PartKind::Book, None),
            LessonPart::Tune => (PartKind::Tune, None),
        };
        Self { kind, minutes: block.minutes, drill, line: String::new() }
    }
}

impl From<&DrillReadiness<'_>> for DrillView {
    fn from(one: &DrillReadiness<'_>) -> Self {
        let drill = one.drill;
        let texts = |text: &BTreeMap<Instrument, String>| {
            text.iter()
                .map(|(instrument, text)| InstrumentText { instrument: (*instrument).into(), text: text.clone() })
                .collect()
        };
        Self {
            id: drill.id.clone(),
            name: drill.name.clone(),
            strand: drill.strand.into(),
            minutes: drill.minutes,
            load: drill.load,
            aim: drill.aim.clone(),
            ready: one.ready,
            of: one.of,
            steps: drill.steps.iter().map(|step| DrillStep { count: step.count, texts: texts(&tx.text) }).collect(),
        }
    }
}

/// Keeps the lesson of a day in the place of the one before; directors only.
#[utoipa::path(put, path = "/api/classes/{class}/lessons/{day}", tag = "lessons",
    params(("class" = Uuid, Path, description = "The class"), ("day" = String, Path, description = "The day, ISO 8601")),
    request_body = LessonPlan,
    responses(
        (status = 204, description = "Kept"),
        ForDirectorsWriting,
    ))]
pub async fn keep_lesson(
    State(app): State<App>,
    Director(member): Director,
    DayInPath(day): DayInPath,
    Body(plan): Body<LessonPlan>,
) -> Result<StatusCode, ApiError> {
    let faults = plan.faults(&app);
    if !faults.is_empty() {
        return Err(ApiError::Invalid(faults));
    }
    let stored = serde_json::to_value(&plan).map_err(|error| ApiError::Internal(error.to_string()))?;
    lessons::keep(&app.db, member.class.key, day, stored, member.account).await?;
    app.live.changed(member.class.key.class);
    Ok(StatusCode::NO_CONTENT)
}

impl LessonPlan {
    fn faults(&self, app: &App) -> Vec<FieldError> {
        let mut faults = Vec::new();
        let mut fault = |wrong: bool, field: &str, words: String| {
            if wrong {
                faults.push(FieldError::new(field, words));
            }
        };
        let many = !(1..=MOST_BLOCKS).contains(&self.blocks.len());
        fault(many, "blocks", format!("1 to {MOST_BLOCKS} blocks."));
        fault(self.aims.len() > MAX_AIMS, "aims", format!("At most {MAX_AIMS} aims."));
        let long = |text: &String| text.chars().count() > LONGEST_LINE || text.contains('\0');
        fault(self.aims.iter().any(long), "aims", format!("At most {LONGEST_LINE} characters each."));
        for (place, block) in self.blocks.iter().enumerate() {
            let field = |name: &str| format!("blocks.{place}.{name}");
            let minutes = !(1..=MAX_LESSON_MINUTES).contains(&block.minutes);
            fault(minutes, &field("minutes"), format!("1 to {MAX_LESSON_MINUTES} minutes."));
            fault(long(&block.line), &field("line"), format!("At most {LONGEST_LINE} characters."));
            let known = block.drill.as_ref().is_some_and(|id| app.content.lessons.drill(id).is_some());
            let wrong = if block.kind == PartKind::Drill { !known } else { block.drill.is_some() };
            fault(wrong, &field("drill"), "Only a drill has one, and one that is there.".to_owned());
        }
        faults
    }
}
