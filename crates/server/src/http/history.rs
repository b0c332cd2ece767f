//! A child's history: its marks, newest first.

use std::collections::{BTreeMap, BTreeSet};

use axum::Json;
use axum::extract::State;
use bright_row_core::checklist::Checklist;
use bright_row_core::mark::{Mark, Seen};
use bright_row_core::{AccountId, ChildId, MarkId, RoundId};
use bright_row_store::accounts;
use bright_row_store::seen::{self, Before};
use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

use super::child::target_name;
use super::extract::Query;
use super::problem::{ApiError, FieldError, ForMembersAsking};
use super::views::SaysView;
use crate::app::App;
use crate::auth::guard::{Member, MemberOfChild};

/// How many marks one answer holds.
const PAGE: u16 = 50;

/// A part of a child's history, newest first.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct History {
    marks: Vec<MarkView>,
    /// There are older marks: ask with `before` set to the last one's id and moment.
    older: bool,
}

/// A mark as history shows it.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct MarkView {
    #[schema(value_type = Uuid)]
    id: MarkId,
    /// A checkpoint or a stage.
    target: String,
    /// What it is called.
    target_name: String,
    /// 0 to 4; absent for a stage look and for an undo.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    level: Option<u8>,
    /// A stage look: it holds, except for these checkpoints.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    holds_except: Option<Vec<String>>,
    /// An undo: the mark it takes back.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false, value_type = Option<Uuid>)]
    retracts: Option<MarkId>,
    /// Names of the slips ticked.
    slips: Vec<String>,
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    says: Option<SaysView>,
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    note: Option<String>,
    observed_at: DateTime<Utc>,
    /// Who looked.
    observer: String,
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false, value_type = Option<Uuid>)]
    round: Option<RoundId>,
}

/// Where in the history to go on.
#[derive(Deserialize, IntoParams)]
#[serde(rename_all = "camelCase")]
#[into_params(parameter_in = Query)]
pub struct HistoryQuery {
    /// Only marks seen before this moment, or at it with a smaller id.
    before: Option<DateTime<Utc>>,
    /// The id that goes with `before`.
    before_id: Option<Uuid>,
}

/// A child's marks, newest first, retracted ones and undos included.
#[utoipa::path(get, path = "/api/classes/{class}/children/{child}/marks", tag = "room",
    params(
        ("class" = Uuid, Path, description = "The class"), ("child" = Uuid, Path, description = "The child"),
        HistoryQuery,
    ),
    responses(
        (status = 200, body = History),
        ForMembersAsking,
    ))]
pub async fn history(
    State(app): State<App>,
    found: MemberOfChild,
    Query(query): Query<HistoryQuery>,
) -> Result<Json<History>, ApiError> {
    let before = match (query.before, query.before_id) {
        (Some(observed_at), Some(id)) => Some(Before { observed_at, id: id.into() }),
        (None, None) => None,
        _ => {
            let both = FieldError::new("before", "`before` and `beforeId` go together.");
            return Err(ApiError::Invalid(vec![both]));
        }
    };
    Ok(Json(read_history(&app, &found.member, found.child.id, before).await?))
}

pub(super) async fn read_history(
    app: &App,
    member: &Member,
    child: ChildId,
    before: Option<Before>,
) -> Result<History, ApiError> {
    let mut marks = seen::history(&app.db, member.class.key, child, before, u64::from(PAGE) + 1).await?;
    let older = marks.len() > usize::from(PAGE);
    marks.truncate(usize::from(PAGE));
    let names = accounts::names(&app.db, marks.iter().map(|mark| mark.observer)).await?;
    let checklist = app.checklist(&member.class);
    let marks = marks.into_iter().map(|mark| mark_view(&checklist, &names, mark)).collect();
    Ok(History { marks, older })
}

fn mark_view(checklist: &Checklist, names: &BTreeMap<AccountId, String>, mark: Mark) -> MarkView {
    let (level, holds_except, retracts, slips) = match mark.seen {
        Seen::Level { level, slips } => (Some(level.number()), None, None, slips),
        Seen::Holds { except } => {
            (None, Some(except.iter().map(ToString::to_string).collect()), None, BTreeSet::default())
        }
        Seen::Retracts(id) => (None, None, Some(id), BTreeSet::default()),
    };
    let slip_name = |id: &str| checklist.slip(id).map_or_else(|| id.to_owned(), |slip| slip.name.clone());
    MarkView {
        id: mark.id,
        target: mark.target.id().to_owned(),
        target_name: target_name(checklist, mark.target.id()),
        level,
        holds_except,
        retracts,
        slips: slips.iter().map(|id| slip_name(id.as_str())).collect(),
        says: mark.says.map(Into::into),
        note: mark.note,
        observed_at: mark.observed_at,
        observer: names.get(&mark.observer).cloned().unwrap_or_default(),
        round: mark.round,
    }
}
