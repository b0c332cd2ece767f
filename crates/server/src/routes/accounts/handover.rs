//! A class handed over to another program: out as an archive, in child by child.

use std::collections::BTreeSet;

use axum::Json;
use axum::body::Bytes;
use axum::extract::State;
use bright_row_core::{ChildId, ClassId};
use bright_row_store::children;
use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};
use serde_with::skip_serializing_none;
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

use crate::archive::handover::{HandedClass, take_out_class};
use crate::auth::guard::{Owner, OwnerOfClass};
use crate::digest::digest_of;
use crate::error::answers::{ForOwnersImporting, ForOwnersTaking};
use crate::error::{ApiError, FieldError};
use crate::extract::Query;
use crate::extract::files::{Download, Upload};
use crate::state::App;

/// The most children of one request: more than a class can have.
const MOST_CHILDREN: usize = 300;

/// Whom it is about.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct WhoQuery {
    /// Their ids, with commas; everybody in the class where it is absent.
    children: Option<String>,
}

fn ids(text: &str) -> Result<BTreeSet<ChildId>, ApiError> {
    let read: Result<BTreeSet<ChildId>, _> = text.split(',').map(|id| id.parse::<Uuid>().map(Into::into)).collect();
    let fault = |words: &str| ApiError::Invalid(vec![FieldError::new("children", words)]);
    let ids = read.map_err(|_| fault("Ids of children, with commas."))?;
    if ids.len() > MOST_CHILDREN { Err(fault("At most 300 children at once.")) } else { Ok(ids) }
}

/// A class as an archive for the next teacher: how it works and everything that was seen of these children, with the names of those
/// who saw it and without their addresses; owners only. Instruments, rounds and lessons stay.
#[utoipa::path(get, path = "/api/classes/{class}/handover.zip", tag = "keeping",
    params(("class" = Uuid, Path, description = "The class"), WhoQuery),
    responses((status = 200, body = Vec<u8>, content_type = "application/zip"), ForOwnersTaking))]
pub async fn hand_over(
    State(app): State<App>,
    OwnerOfClass(member): OwnerOfClass,
    Query(query): Query<WhoQuery>,
) -> Result<Download, ApiError> {
    let chosen = match &query.children {
        Some(text) => ids(text)?,
        None => children::ids_of_class(&app.db, member.class.key).await?,
    };
    // On the heap: what writes a zip is large.
    let bytes = Box::pin(take_out_class(&app, &member, &chosen)).await?;
    Ok(Download { name: "class-archive.zip".to_owned(), kind: "application/zip", bytes })
}

/// Whether somebody has agreed, and to what.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct TakeQuery {
    /// The digest of the file that was looked at; absent: it is only shown.
    digest: Option<String>,
    /// The id of the class that it becomes, made by the page: the same sent again is not one more.
    class: Option<ClassId>,
    /// The children whose families agree, with commas.
    children: Option<String>,
}

/// A child of an archive.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct HandedChildView {
    id: ChildId,
    name: String,
    instrument: String,
    /// How often it was looked at.
    observations: usize,
}

/// What is in an archive.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct HandoverView {
    /// Of the file.
    digest: String,
    /// The name of the class.
    name: String,
    made_at: DateTime<Utc>,
    /// By name.
    children: Vec<HandedChildView>,
    /// The class that it became; absent where it is only shown.
    class: Option<ClassId>,
}

/// Shows what is in the archive of a class, or, with the digest of that, brings the chosen children in as a new class; owners only.
#[utoipa::path(post, path = "/api/programs/{program}/handover", tag = "keeping",
    params(("program" = Uuid, Path, description = "The program"), TakeQuery),
    request_body(content = Vec<u8>, content_type = "application/octet-stream"),
    responses((status = 200, body = HandoverView), ForOwnersImporting))]
pub async fn take_over(
    State(app): State<App>,
    owner: Owner,
    Query(query): Query<TakeQuery>,
    Upload(bytes): Upload,
) -> Result<Json<HandoverView>, ApiError> {
    let (digest, handed) = app.readers.read(move || read(&bytes)).await?;
    let handed = handed?;
    let class = match (&query.digest, query.class) {
        (None, _) => None,
        (Some(agreed), _) if *agreed != digest => {
            return Err(ApiError::Conflict("This is another file than the one that was shown. Choose it again."));
        }
        (Some(_), None) => {
            return Err(ApiError::Invalid(vec![FieldError::new("class", "The id of the class that it becomes.")]));
        }
        (Some(_), Some(class)) => {
            let wanted = ids(query.children.as_deref().unwrap_or_default())?;
            let there: BTreeSet<ChildId> = handed.children().iter().map(|child| child.id).collect();
            if !wanted.is_subset(&there) {
                let words = "Only children who are in the archive.";
                return Err(ApiError::Invalid(vec![FieldError::new("children", words)]));
            }
            handed.bring_in(&app, owner, class, &wanted).await?;
            Some(class)
        }
    };
    let child = |child: crate::archive::handover::HandedChild| HandedChildView {
        id: child.id,
        name: child.name,
        instrument: child.instrument,
        observations: child.observations,
    };
    Ok(Json(HandoverView {
        digest,
        name: handed.name().to_owned(),
        made_at: handed.made_at(),
        children: handed.children().into_iter().map(child).collect(),
        class,
    }))
}

fn read(bytes: &Bytes) -> (String, Result<HandedClass, ApiError>) {
    (digest_of(bytes), HandedClass::read(bytes))
}
