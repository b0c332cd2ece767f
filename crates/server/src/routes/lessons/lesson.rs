//! The lesson of a meeting: proposed from what the class is ready for, changed and kept by the director.

use crate::extract::based_on::{BasedOn, BasedOnHeaders, version};
use crate::extract::fields::Fields;
use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use bright_row_core::craft::drills::{Drill, Glance, Lessons};
use bright_row_core::craft::instrument::{Instrument, InstrumentFacts};
use bright_row_core::lessons::lesson::support_is_due;
use bright_row_core::lessons::lesson::tapes_are_due;
use bright_row_core::lessons::lesson::{DrillReadiness, MAX_LESSON_MINUTES, MIN_LESSON_MINUTES};
use bright_row_core::lessons::notes::{FIRST_NOTES, FirstNote, Stop};
use bright_row_core::lessons::plan::LessonPlan;
use bright_row_store::lessons;
use chrono::NaiveDate;
use serde::{Deserialize, Serialize};
use serde_with::skip_serializing_none;
use utoipa::{IntoParams, ToSchema};

use crate::error::ApiError;
use crate::error::answers::{ForDirectorsReplacing, ForMembers};
use crate::extract::{Body, DayInPath, Query};
use crate::routes::lessons::overview::ChildName;
use crate::routes::tapes::note_views::TuneName;
use crate::routes::tapes::tuning::{TuningView, tuning};
use crate::use_cases::keep_lesson;
use crate::use_cases::snapshot::{ClassSnapshot, Learner};

use crate::auth::guard::{Director, InClass};
use crate::state::App;
use crate::telemetry::metrics::timed;

/// Minutes of a lesson, until one was kept.
const USUAL_MINUTES: u32 = 40;

/// A drill with how many are ready for it.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct DrillView {
    drill: Drill,
    /// Minutes that a lesson gives it.
    minutes: u32,
    /// Somebody holds up or presses: rests are in it.
    load: bool,
    /// Children who have passed what it comes after.
    ready: usize,
    /// Children who play its instruments.
    of: usize,
}

/// What differs on an instrument, at a glance.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct GlanceView {
    instrument: Instrument,
    thumb: String,
    spacing: String,
    /// How the first notes are made there.
    notes: Vec<NoteView>,
}

/// How a note is made on an instrument.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct NoteView {
    /// `F sharp`.
    note: String,
    /// The string it is on where it is stopped: `D`.
    string: String,
    stop: Stop,
}

/// What the next lesson is made from.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct LessonView {
    /// The meeting it is for; absent past the calendar's end.
    day: Option<NaiveDate>,
    minutes: u32,
    /// Kept for that day; absent until then.
    kept: Option<LessonPlan>,
    /// The version of `kept`; absent until then.
    version: Option<String>,
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
    /// The open strings to tune by.
    tuning: Vec<TuningView>,
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
    InClass(member): InClass,
    Query(asked): Query<LessonQuery>,
) -> Result<Json<LessonView>, ApiError> {
    let class = &member.class;
    let snapshot = ClassSnapshot::new(&app, class);
    let day = class.calendar.next_from(class.calendar.day_of(app.now()));
    let kept = match day {
        Some(day) => lessons::of_day(&app.db, class.key, day).await?,
        None => None,
    };
    let kept_minutes = kept.as_ref().map(LessonPlan::minutes);
    let minutes = asked.minutes.or(kept_minutes).unwrap_or(USUAL_MINUTES).clamp(MIN_LESSON_MINUTES, MAX_LESSON_MINUTES);
    let learners = snapshot.learners().await?;
    let pupils: Vec<_> = learners.iter().map(|learner| learner.pupil(&app.content.causes)).collect();
    let content = app.content.lessons(&app.choices(class), &class.edits);
    let ready = content.ready(&pupils);
    let meeting = usize::try_from(day.map_or(0, |day| class.calendar.meeting_on(day))).unwrap_or(0);
    let blocks = timed("lesson", || content.propose(minutes, meeting, &pupils, &snapshot.checklist));
    Ok(Json(LessonView {
        day,
        minutes,
        version: kept.as_ref().map(version),
        kept,
        proposed: LessonPlan::proposed(&content, blocks),
        drills: ready.iter().map(Into::into).collect(),
        glances: glances(&app, &content),
        supports: learners
            .iter()
            .zip(&pupils)
            .filter(|(_, pupil)| support_is_due(pupil))
            .map(|(one, _)| named(one))
            .collect(),
        tapes: learners.iter().filter(|learner| tapes_are_due(&learner.ladder)).map(named).collect(),
        tunes: app.content.tunes.iter().map(Into::into).collect(),
        tuning: tuning(&snapshot),
    }))
}

fn glances(app: &App, lessons: &Lessons) -> Vec<GlanceView> {
    let glance = |(instrument, glance): (&Instrument, &Glance)| GlanceView {
        instrument: *instrument,
        thumb: glance.thumb.clone(),
        spacing: glance.spacing.clone(),
        notes: app.content.instruments.get(instrument).map(first_notes).unwrap_or_default(),
    };
    lessons.glances.iter().map(glance).collect()
}

fn first_notes(facts: &InstrumentFacts) -> Vec<NoteView> {
    let made = |note: FirstNote| {
        let (name, stop) = note.on(facts)?;
        Some(NoteView { note: name, string: note.string.into(), stop })
    };
    FIRST_NOTES.into_iter().filter_map(made).collect()
}

fn named(learner: &Learner) -> ChildName {
    ChildName::new(learner.child.id, learner.child.name.clone(), learner.child.playing.now)
}

impl From<&DrillReadiness<'_>> for DrillView {
    fn from(one: &DrillReadiness<'_>) -> Self {
        let drill = one.drill;
        Self { minutes: drill.minutes(), load: drill.loads(), ready: one.ready, of: one.of, drill: drill.clone() }
    }
}

/// Keeps the lesson of a day in the place of the one before; directors only.
#[utoipa::path(put, path = "/api/classes/{class}/lessons/{day}", tag = "lessons",
    params(
        ("class" = Uuid, Path, description = "The class"), ("day" = String, Path, description = "The day, ISO 8601"),
        BasedOnHeaders,
    ),
    request_body = LessonPlan,
    responses(
        (status = 204, description = "Kept"),
        ForDirectorsReplacing,
    ))]
pub async fn keep_lesson(
    State(app): State<App>,
    Director(member): Director,
    DayInPath(day): DayInPath,
    based_on: BasedOn,
    Body(plan): Body<LessonPlan>,
) -> Result<StatusCode, ApiError> {
    let mut fields = Fields::default();
    let lessons = app.content.lessons(&app.choices(&member.class), &member.class.edits);
    for (field, words) in plan.faults(&lessons) {
        fields.fault(&field, words);
    }
    fields.finish()?;
    keep_lesson::keep_lesson(&app, &member, (day, &plan), |there| based_on.allow(there, &plan)).await?;
    Ok(StatusCode::NO_CONTENT)
}
