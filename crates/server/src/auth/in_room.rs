//! Who opens the room.

use std::collections::BTreeMap;

use axum::extract::FromRequestParts;
use axum::http::request::Parts;
use bright_row_core::{ChildId, ClassId};
use bright_row_store::classes::{self, touched};
use uuid::Uuid;

use super::admission::member;
use super::deeds::Doer;
use super::guard::{InClass, Member, SignedIn};
use crate::error::ApiError;
use crate::extract::id_in_path;
use crate::state::App;

/// Somebody who may open the class that the path names, and what tells which of its children were touched since
/// ([`touched::by_child`]): where the class is as it was, one statement asks for both.
#[derive(Clone, Debug)]
pub struct InRoom {
    /// Who asks, and the class.
    pub member: Member,
    /// Of each child.
    pub touched: BTreeMap<ChildId, Uuid>,
}

impl FromRequestParts<App> for InRoom {
    type Rejection = ApiError;

    async fn from_request_parts(parts: &mut Parts, app: &App) -> Result<Self, ApiError> {
        let SignedIn(account) = SignedIn::from_request_parts(parts, app).await?;
        let id: Option<ClassId> = id_in_path(parts, app, "class").await.map(Into::into);
        if let Some(before) = id.and_then(|class| app.kept_classes.get(&class)) {
            let program = before.key.program;
            let asks = classes::Asks { account, class: before.key.class, settled: before.settled, at: app.now() };
            if let Some((admission, touched)) = classes::admission_with_touched(&app.db, program, &asks).await? {
                Doer::in_program(parts, program);
                return Ok(Self { member: member(account, admission.opens(before))?, touched });
            }
        }
        let InClass(member) = InClass::from_request_parts(parts, app).await?;
        // What is read after this is as new as this says, or newer: then the next one reads it again.
        let touched = touched::by_child(&app.db, member.class.key).await?;
        Ok(Self { member, touched })
    }
}
