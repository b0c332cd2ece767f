//! The term ahead: what so many minutes a meeting come to, and how few would do.

use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};

use axum::Json;
use axum::extract::State;
use bright_row_core::progress::next::Order as WorkOrder;
use bright_row_core::round::forecast::{self, MeetingAhead, Prospect, settled_from};
use bright_row_store::classes::Class;
use chrono::NaiveDate;
use serde::{Deserialize, Serialize};
use serde_with::skip_serializing_none;
use utoipa::{IntoParams, ToSchema};

use crate::auth::guard::Member;
use crate::error::answers::{ForMembers, ForMembersAsking};
use crate::error::{ApiError, FieldError};
use crate::extract::Query;
use crate::routes::round::kit::USUAL_MINUTES;
use crate::state::App;
use crate::use_cases::snapshot::{ClassSnapshot, Learner};
use bright_row_core::number::share;

/// A meeting leaves no more minutes for looking than this.
const MAX_MINUTES: u32 = 60;
/// So many meetings are played forward.
const MAX_MEETINGS_AHEAD: u32 = 40;

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

/// The term ahead.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct ForecastView {
    minutes: u32,
    children: usize,
    /// The meetings to come, at most 40; fewer where the calendar ends.
    meetings: Vec<MeetingAheadView>,
    /// From this day on nothing is overdue to the end; absent where that never comes.
    settled_from: Option<NaiveDate>,
    /// The longest wait of any child for a visit, in meetings.
    longest_wait: u32,
    /// The mean wait over all meetings.
    mean_wait: f64,
}

/// One meeting to come.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct MeetingAheadView {
    meeting: u32,
    day: NaiveDate,
    minutes: u32,
    /// Looks overdue when it begins.
    overdue: usize,
    /// By how many meetings the latest of them is late.
    latest: u32,
    visited: usize,
    longest_wait: u32,
    mean_wait: f64,
}

/// The fewest minutes that do.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct FewestMinutes {
    /// Absent where not even 60 minutes a meeting are enough.
    minutes: Option<u32>,
}

impl From<&MeetingAhead> for MeetingAheadView {
    fn from(ahead: &MeetingAhead) -> Self {
        Self {
            meeting: ahead.meeting,
            day: ahead.day,
            minutes: ahead.seconds / 60,
            overdue: ahead.overdue,
            latest: ahead.latest,
            visited: ahead.visited,
            longest_wait: ahead.longest_wait,
            mean_wait: share(ahead.mean_wait),
        }
    }
}

/// Nobody waits for the answer any more once this is gone.
struct Asked(Arc<AtomicBool>);

impl Drop for Asked {
    fn drop(&mut self) {
        self.0.store(true, Ordering::Relaxed);
    }
}

/// The class with everything that a forecast reads, to be taken to another thread.
struct Term {
    app: App,
    class: Class,
    now: u32,
    /// In walking order, each with the meeting of its last visit.
    learners: Vec<(Learner, u32)>,
}

impl Term {
    async fn read(app: App, member: Member) -> Result<Self, ApiError> {
        let class = member.class;
        let (learners, now) = {
            let snapshot = ClassSnapshot::new(&app, &class);
            let mut learners = snapshot.learners().await?;
            learners.sort_by_cached_key(Learner::walking_key);
            let with_visit = learners.into_iter().map(|learner| {
                let unseen = snapshot.unseen(&learner.child, &learner.standings).meetings;
                (learner, snapshot.now.saturating_sub(unseen))
            });
            (with_visit.collect(), snapshot.now)
        };
        Ok(Self { app, class, now, learners })
    }

    /// Works on a thread of its own, and gives up when nobody waits any more.
    async fn play<T: Send + 'static>(
        self,
        by: impl FnOnce(&forecast::Class<'_>, &[Prospect<'_>], &Self, &dyn Fn() -> bool) -> T + Send + 'static,
    ) -> Result<T, ApiError> {
        let gone = Arc::new(AtomicBool::new(false));
        let asked = Asked(Arc::clone(&gone));
        let work = tokio::task::spawn_blocking(move || {
            let class = forecast::Class {
                calendar: &self.class.calendar,
                rhythm: &self.class.rhythm,
                causes: &self.app.content.causes,
                order: WorkOrder::of(&self.app.content.approach, &self.class.choices),
                visit_seconds: self.class.round.visit_seconds,
                max_checks_per_child: usize::try_from(self.class.round.max_checks).unwrap_or(usize::MAX),
                must_see_after_meetings: self.class.round.must_see_after,
            };
            let prospects: Vec<Prospect<'_>> = self
                .learners
                .iter()
                .map(|(learner, last_visit)| Prospect {
                    checklist: &learner.checklist,
                    playing: &learner.child.playing,
                    context: &learner.context.context,
                    standings: &learner.standings,
                    last_visit: *last_visit,
                })
                .collect();
            by(&class, &prospects, &self, &|| gone.load(Ordering::Relaxed))
        });
        let done = work.await.map_err(|error| ApiError::Internal(error.to_string()));
        drop(asked);
        done
    }

    /// Seconds for looking at a meeting.
    fn seconds(&self, day: NaiveDate, minutes: u32) -> u32 {
        self.class.short_days.get(&day).copied().unwrap_or(minutes) * 60
    }
}

/// The term ahead with so many minutes a meeting, as if everything that is looked at were fine.
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
    let minutes = asked.minutes;
    if !(1..=MAX_MINUTES).contains(&minutes) {
        return Err(ApiError::Invalid(vec![FieldError::new("minutes", format!("1 to {MAX_MINUTES} minutes."))]));
    }
    let term = Term::read(app, member).await?;
    let children = term.learners.len();
    let ahead = term
        .play(move |class, prospects, term, stopped| {
            class.forecast(prospects, term.now, MAX_MEETINGS_AHEAD, |day| term.seconds(day, minutes), stopped)
        })
        .await?
        .unwrap_or_default();
    let settled = settled_from(&ahead);
    let count = u32::try_from(ahead.len()).unwrap_or(u32::MAX).max(1);
    Ok(Json(ForecastView {
        minutes,
        children,
        meetings: ahead.iter().map(Into::into).collect(),
        settled_from: ahead.iter().find(|meeting| Some(meeting.meeting) == settled).map(|meeting| meeting.day),
        longest_wait: ahead.iter().map(|meeting| meeting.longest_wait).max().unwrap_or_default(),
        mean_wait: share(ahead.iter().map(|meeting| meeting.mean_wait).sum::<f64>() / f64::from(count)),
    }))
}

/// The fewest minutes a meeting at which nothing is overdue from some meeting on.
#[utoipa::path(get, path = "/api/classes/{class}/forecast/fewest", tag = "round",
    params(("class" = Uuid, Path, description = "The class")),
    responses(
        (status = 200, body = FewestMinutes),
        ForMembers,
    ))]
pub async fn fewest_minutes(State(app): State<App>, member: Member) -> Result<Json<FewestMinutes>, ApiError> {
    let term = Term::read(app, member).await?;
    let minutes = term
        .play(|class, prospects, term, stopped| {
            class.fewest_minutes(prospects, term.now, MAX_MEETINGS_AHEAD, MAX_MINUTES, stopped)
        })
        .await?;
    Ok(Json(FewestMinutes { minutes }))
}
