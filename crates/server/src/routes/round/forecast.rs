//! The term ahead: when what is reached with so many minutes a meeting, how few would do, and which rhythm can be kept.

use std::time::Duration;

use axum::Json;
use axum::extract::State;
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::number::share;
use bright_row_core::round::bands::{Ahead, Band, MeetingAhead, least, stretched};
use bright_row_core::round::milestones::{Goal, Milestone};
use chrono::NaiveDate;
use serde::{Deserialize, Serialize};
use serde_with::skip_serializing_none;
use utoipa::{IntoParams, ToSchema};

use crate::auth::guard::Member;
use crate::error::answers::ForMembersAsking;
use crate::error::{ApiError, FieldError};
use crate::extract::Query;
use crate::routes::round::kit::USUAL_MINUTES;
use crate::state::App;
use crate::use_cases::term_ahead::{Effort, Played, Term};

/// A meeting leaves no more minutes for looking than this.
const MAX_MINUTES: u32 = 60;
/// For the picture.
const PICTURE: Effort = Effort { most: 200, least: 20, time: Duration::from_secs(3) };
/// For each try of a search: only a mean is asked for.
const TRY: Effort = Effort { most: 30, least: 8, time: Duration::from_millis(500) };
/// A rhythm is not stretched further than this: what stands at Alone is looked at after so many meetings.
const MAX_ALONE: u32 = 20;

/// What is asked of the term ahead.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct ForecastQuery {
    /// Minutes for looking at each meeting, 1 to 60; short days keep their own.
    #[serde(default = "usual_minutes")]
    minutes: u32,
}

fn usual_minutes() -> u32 {
    USUAL_MINUTES
}

impl ForecastQuery {
    fn minutes(&self) -> Result<u32, ApiError> {
        if (1..=MAX_MINUTES).contains(&self.minutes) {
            return Ok(self.minutes);
        }
        Err(ApiError::Invalid(vec![FieldError::new("minutes", format!("1 to {MAX_MINUTES} minutes."))]))
    }
}

/// Where a number lies in many runs.
#[derive(Serialize, ToSchema)]
pub struct BandView {
    /// One of ten runs comes out lower.
    low: u32,
    /// Half of them do.
    middle: u32,
    /// Nine of ten come out at most here.
    high: u32,
}

impl From<Band<u32>> for BandView {
    fn from(Band { low, middle, high }: Band<u32>) -> Self {
        Self { low, middle, high }
    }
}

/// The term ahead: the class as it stands, played forward many times at its own pace.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct ForecastView {
    minutes: u32,
    children: usize,
    /// How often it was played: 200 times, less often on a slow machine.
    plays: usize,
    /// The meetings to come, at most 40; fewer where the calendar ends.
    meetings: Vec<MeetingAheadView>,
    /// The longest wait of any child for a visit, in meetings.
    longest_wait: BandView,
    /// The mean wait over all meetings.
    mean_wait: f64,
    /// Whether the rhythm can be kept: but for what is late today not one look
    /// is late by more than two meetings, on the mean.
    keeps_up: bool,
    /// What most have not come to yet and some run comes to.
    milestones: Vec<MilestoneView>,
}

/// One meeting to come.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct MeetingAheadView {
    day: NaiveDate,
    minutes: u32,
    /// Looks that are late when it begins.
    late: BandView,
    /// Looks that are late by more than two meetings, on the mean.
    too_late: f64,
    longest_wait: BandView,
    /// Children visited, on the mean.
    visited: f64,
}

/// What children come to.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub enum GoalView {
    /// Their hands are ready for markers.
    Markers,
    /// The stage is open.
    Begun,
    /// The stage is reached.
    Reached,
}

/// When most of a class or of a section come to something: four of five. Days are missing where it is not before the last
/// meeting.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct MilestoneView {
    goal: GoalView,
    /// The stage's id, absent for markers.
    stage: Option<String>,
    /// Its strand and number, as people read them.
    name: Option<String>,
    /// Absent for the whole class.
    section: Option<Instrument>,
    children: usize,
    /// One of ten runs comes to it before this day.
    low: NaiveDate,
    /// Half of them do by this day.
    middle: Option<NaiveDate>,
    /// Nine of ten do.
    high: Option<NaiveDate>,
}

/// The fewest minutes that do.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct FewestMinutes {
    /// Absent where not even 60 minutes a meeting are enough.
    minutes: Option<u32>,
}

/// Whether the class's rhythm can be kept, and which could.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct RhythmKept {
    minutes: u32,
    /// Whether the one it has can be.
    keeps_up: bool,
    /// The least stretch that can be; absent where it needs none, or where none is enough.
    stretched: Option<Stretched>,
}

/// Looks at what stands, further apart.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct Stretched {
    /// Meetings until the next look at what stands at Alone.
    alone: u32,
    /// The same for what is Lasting for the first time.
    lasting: u32,
    /// The longest wait.
    longest: u32,
}

/// The term ahead with so many minutes a meeting.
#[utoipa::path(get, path = "/api/classes/{class}/forecast", tag = "round",
    params(("class" = Uuid, Path, description = "The class"), ForecastQuery),
    responses(
        (status = 200, body = ForecastView),
        ForMembersAsking,
    ))]
pub async fn forecast(
    State(app): State<App>,
    member: Member,
    Query(asked): Query<ForecastQuery>,
) -> Result<Json<ForecastView>, ApiError> {
    let minutes = asked.minutes()?;
    let term = Term::read(app, member.class).await?;
    let view = term.play(move |played| view(played, minutes)).await?;
    view.map(Json).ok_or_else(|| ApiError::Internal("nobody waits for the term ahead".to_owned()))
}

fn view(played: &Played<'_>, minutes: u32) -> Option<ForecastView> {
    let term = played.term();
    let forecast = played.forecast(term.rhythm());
    let runs = played.runs(&forecast, minutes, PICTURE)?;
    let ahead = Ahead::of(&runs);
    let meeting = |(day, ahead): (&NaiveDate, &MeetingAhead)| MeetingAheadView {
        day: *day,
        minutes: term.minutes(*day, minutes),
        late: ahead.late.into(),
        too_late: share(ahead.too_late),
        longest_wait: ahead.longest_wait.into(),
        visited: share(ahead.visited),
    };
    let milestones = forecast.milestones().iter().zip(&ahead.reached);
    Some(ForecastView {
        minutes,
        children: term.children(),
        plays: runs.len(),
        meetings: forecast.days().iter().zip(&ahead.meetings).map(meeting).collect(),
        longest_wait: ahead.longest_wait.into(),
        mean_wait: share(ahead.mean_wait),
        keeps_up: ahead.keeps_up(),
        milestones: milestones.filter_map(|(milestone, band)| milestone_view(term, milestone, *band)).collect(),
    })
}

/// `None` where no run in ten comes to it.
fn milestone_view(term: &Term, milestone: &Milestone, band: Band<Option<u32>>) -> Option<MilestoneView> {
    let (goal, stage) = match milestone.goal {
        Goal::Markers => (GoalView::Markers, None),
        Goal::Begun(stage) => (GoalView::Begun, Some(stage)),
        Goal::Reached(stage) => (GoalView::Reached, Some(stage)),
    };
    let stage = stage.and_then(|place| term.stage(place));
    Some(MilestoneView {
        goal,
        stage: stage.as_ref().map(|(id, _)| id.clone()),
        name: stage.map(|(_, name)| name),
        section: milestone.section,
        children: milestone.children,
        low: term.day(band.low?)?,
        middle: band.middle.and_then(|meeting| term.day(meeting)),
        high: band.high.and_then(|meeting| term.day(meeting)),
    })
}

/// The fewest minutes a meeting with which the class's rhythm can be kept.
#[utoipa::path(get, path = "/api/classes/{class}/forecast/fewest", tag = "round",
    params(("class" = Uuid, Path, description = "The class")),
    responses(
        (status = 200, body = FewestMinutes),
        crate::error::answers::ForMembers,
    ))]
pub async fn fewest_minutes(State(app): State<App>, member: Member) -> Result<Json<FewestMinutes>, ApiError> {
    let term = Term::read(app, member.class).await?;
    let minutes = term
        .play(|played| {
            let forecast = played.forecast(played.term().rhythm());
            let does = |minutes| Some(Ahead::of(&played.runs(&forecast, minutes, TRY)?).keeps_up());
            least(1, MAX_MINUTES, does)
        })
        .await?;
    Ok(Json(FewestMinutes { minutes }))
}

/// Whether the class's rhythm can be kept with so many minutes a meeting, and if not the least stretch that can.
#[utoipa::path(get, path = "/api/classes/{class}/forecast/rhythm", tag = "round",
    params(("class" = Uuid, Path, description = "The class"), ForecastQuery),
    responses(
        (status = 200, body = RhythmKept),
        ForMembersAsking,
    ))]
pub async fn rhythm_kept(
    State(app): State<App>,
    member: Member,
    Query(asked): Query<ForecastQuery>,
) -> Result<Json<RhythmKept>, ApiError> {
    let minutes = asked.minutes()?;
    let term = Term::read(app, member.class).await?;
    let kept = term.play(move |played| kept(played, minutes)).await?;
    kept.map(Json).ok_or_else(|| ApiError::Internal("nobody waits for the rhythm".to_owned()))
}

fn kept(played: &Played<'_>, minutes: u32) -> Option<RhythmKept> {
    let rhythm = played.term().rhythm();
    let does = |alone: u32| {
        let forecast = played.forecast(stretched(&rhythm, alone));
        Some(Ahead::of(&played.runs(&forecast, minutes, TRY)?).keeps_up())
    };
    if does(rhythm.alone)? {
        return Some(RhythmKept { minutes, keeps_up: true, stretched: None });
    }
    let alone = if rhythm.alone < MAX_ALONE { least(rhythm.alone + 1, MAX_ALONE, does) } else { None };
    let stretched = alone.map(|alone| stretched(&rhythm, alone));
    let stretched = stretched.map(|to| Stretched { alone: to.alone, lasting: to.lasting, longest: to.longest });
    Some(RhythmKept { minutes, keeps_up: false, stretched })
}
