//! What the forecast said at an earlier meeting, and what came.

use std::time::Duration;

use axum::Json;
use axum::extract::State;
use bright_row_core::craft::id::StageId;
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::round::bands::{Ahead, Band};
use bright_row_core::round::milestones::{Goal, Milestone};
use bright_row_core::term::came::{Fit, fit, most_reached};
use bright_row_core::term::growth::Growth;
use chrono::NaiveDate;
use serde::{Deserialize, Serialize};
use serde_with::skip_serializing_none;
use utoipa::{IntoParams, ToSchema};

use super::overview::Read;
use crate::auth::guard::Member;
use crate::error::answers::ForMembersAsking;
use crate::error::{ApiError, FieldError};
use crate::extract::Query;
use crate::routes::round::kit::USUAL_MINUTES;
use crate::state::App;
use crate::use_cases::snapshot::ClassSnapshot;
use crate::use_cases::term_ahead::{Effort, Term};
use crate::use_cases::term_past::ClassPast;

/// How often the class is played forward from how it stood then.
const EFFORT: Effort = Effort { most: 100, least: 20, time: Duration::from_secs(3) };

/// From which meeting.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct CameQuery {
    /// The meeting after which the forecast is made, from 1 and before the present one; a third of those that have been by default.
    meeting: Option<u32>,
}

/// What the forecast said after an earlier meeting, and what came: made anew from what had been seen until then.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct CameView {
    /// The meeting after which it is made.
    meeting: u32,
    day: NaiveDate,
    /// How often the class was played forward.
    plays: usize,
    /// Of what can be judged, how many came within the days that were named: eight of ten should.
    within: usize,
    /// What can be judged: it came, or its days are over.
    judged: usize,
    /// What most were said to reach by the end of the calendar, or have reached.
    stages: Vec<StageCame>,
}

/// When most of a class or of a section were said to reach a stage, and when they did.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct StageCame {
    stage: String,
    name: String,
    /// Absent for the whole class.
    section: Option<Instrument>,
    children: usize,
    /// One of ten runs came to it before this day; absent where hardly any run came to it.
    low: Option<NaiveDate>,
    /// Half of them did by this day.
    middle: Option<NaiveDate>,
    /// Nine of ten did; absent where they did not before the last meeting.
    high: Option<NaiveDate>,
    /// When four of five had reached it; absent where they have not.
    came: Option<NaiveDate>,
    #[schema(value_type = String)]
    fit: Fit,
}

/// What the forecast said after an earlier meeting, and what came.
#[utoipa::path(get, path = "/api/classes/{class}/term/forecast", tag = "term",
    params(("class" = Uuid, Path, description = "The class"), CameQuery),
    responses(
        (status = 200, body = CameView),
        ForMembersAsking,
    ))]
pub async fn term_forecast(
    State(app): State<App>,
    member: Member,
    Query(query): Query<CameQuery>,
) -> Result<Json<CameView>, ApiError> {
    let calendar = &member.class.calendar;
    let now = calendar.meeting_at(app.now());
    let from = query.meeting.unwrap_or_else(|| (now / 3).max(1));
    let too_early = || ApiError::Invalid(vec![FieldError::new("meeting", "A meeting before the present one.")]);
    let day = calendar.date_of(from).filter(|_| from < now).ok_or_else(too_early)?;
    let then = Term::read_then(app.clone(), member.class.clone(), from).await?;
    let ids = then.ids();
    let (milestones, ahead, plays, stages) = then
        .play(|played| {
            let forecast = played.forecast(played.term().rhythm());
            let runs = played.runs(&forecast, USUAL_MINUTES, EFFORT)?;
            let stages = forecast.milestones().iter().map(|milestone| match milestone.goal {
                Goal::Reached(stage) => played.term().stage(stage),
                Goal::Begun(_) | Goal::Markers => None,
            });
            Some((forecast.milestones().to_vec(), Ahead::of(&runs), runs.len(), stages.collect::<Vec<_>>()))
        })
        .await?
        .ok_or_else(|| ApiError::Internal("nobody waits for what came".to_owned()))?;
    let snapshot = ClassSnapshot::new(&app, &member.class);
    let past = ClassPast::read(&snapshot).await?;
    let read = Read::new(&snapshot, &past);
    let growths: Vec<&Growth> =
        read.growths.iter().map(|(_, growth)| growth).filter(|growth| ids.contains(&growth.child)).collect();
    let came = Came { read: &read, growths, from, now };
    let stages: Vec<StageCame> = milestones
        .iter()
        .zip(&ahead.reached)
        .zip(stages)
        .filter_map(|((milestone, band), stage)| came.stage(milestone, *band, stage?))
        .collect();
    let count = |is: fn(Fit) -> bool| stages.iter().filter(|stage| is(stage.fit)).count();
    let (within, judged) = (count(|fit| fit == Fit::Within), count(|fit| fit != Fit::Open));
    Ok(Json(CameView { meeting: from, day, plays, within, judged, stages }))
}

/// What came, while it is held against what was said.
struct Came<'a> {
    read: &'a Read<'a>,
    /// Of those who were there when the forecast was made.
    growths: Vec<&'a Growth>,
    from: u32,
    now: u32,
}

impl Came<'_> {
    /// `None` for what was neither said nor came.
    fn stage(&self, milestone: &Milestone, said: Band<Option<u32>>, (id, name): (String, String)) -> Option<StageCame> {
        let came = most_reached(&self.growths, &StageId::new(id.clone()), milestone.section, self.from);
        if came.is_none() && said.low.is_none() {
            return None;
        }
        let day = |meeting: Option<u32>| meeting.and_then(|meeting| self.read.day(meeting));
        Some(StageCame {
            stage: id,
            name,
            section: milestone.section,
            children: milestone.children,
            low: day(said.low),
            middle: day(said.middle),
            high: day(said.high),
            came: day(came),
            fit: fit(said, came, self.now),
        })
    }
}
