//! Extractors: a handler that takes one of these cannot be reached by anybody else.
//!
//! Whoever may open a class is [`InClass`]; of those, [`Member`] leaves out substitutes, and [`Director`] everybody who does not
//! change anything. A handler that does not say otherwise is closed to substitutes.

use std::sync::Arc;

use axum::extract::FromRequestParts;
use axum::http::request::Parts;
use bright_row_core::role::Role;
use bright_row_core::{AccountId, ProgramId};
use bright_row_store::accounts;
use bright_row_store::children::{self, Child};
use bright_row_store::classes::Class;
use chrono::{DateTime, Utc};

use super::admission::let_in;
use super::deeds::Doer;
use super::recorder::SENDING_AFTER;
use super::session::WebSession;
use crate::error::ApiError;
use crate::extract::id_in_path;
use crate::state::App;

/// Somebody who signed in.
#[derive(Clone, Copy, Debug)]
pub struct SignedIn(pub AccountId);

impl FromRequestParts<App> for SignedIn {
    type Rejection = ApiError;

    async fn from_request_parts(parts: &mut Parts, app: &App) -> Result<Self, ApiError> {
        let session = WebSession::from_request_parts(parts, app).await?;
        let account = session.account().await?.ok_or(ApiError::SignInFirst)?;
        Doer::is(parts, account);
        Ok(Self(account))
    }
}

/// Somebody who may open the class that the path names; anybody else hears that there is no such class.
#[derive(Clone, Debug)]
pub struct InClass(pub Member);

/// The class that the path names, for somebody who may open it at a moment.
pub(super) async fn open(parts: &mut Parts, app: &App, at: DateTime<Utc>) -> Result<Member, ApiError> {
    let SignedIn(account) = SignedIn::from_request_parts(parts, app).await?;
    let id = id_in_path(parts, app, "class").await.ok_or(ApiError::NotFound("class"))?;
    let member = let_in(app, account, id.into(), at).await?;
    Doer::in_program(parts, member.class.key.program);
    Ok(member)
}

/// The same as [`InClass`], but no substitute.
#[derive(Clone, Debug)]
pub struct Member {
    /// Who asks.
    pub account: AccountId,
    /// What they may do.
    pub role: Role,
    /// Until when a substitute is let in.
    pub until: Option<DateTime<Utc>>,
    /// The class.
    pub class: Arc<Class>,
}

impl Member {
    /// Whether this one may change children and settings here and now.
    #[must_use]
    pub fn may_change(&self) -> bool {
        self.role.may_change() && self.class.archived_at.is_none()
    }
}

impl FromRequestParts<App> for InClass {
    type Rejection = ApiError;

    async fn from_request_parts(parts: &mut Parts, app: &App) -> Result<Self, ApiError> {
        match open(parts, app, app.now()).await {
            // A substitute whose time is over is signed in for what is on its way only.
            Err(ApiError::NotFound(_)) if open(parts, app, app.now() - SENDING_AFTER).await.is_ok() => {
                Err(ApiError::SignInFirst)
            }
            opened => opened.map(Self),
        }
    }
}

impl FromRequestParts<App> for Member {
    type Rejection = ApiError;

    async fn from_request_parts(parts: &mut Parts, app: &App) -> Result<Self, ApiError> {
        let InClass(member) = InClass::from_request_parts(parts, app).await?;
        if member.role.looks_back() { Ok(member) } else { Err(ApiError::NotForSubstitutes) }
    }
}

async fn child_in_path(parts: &mut Parts, app: &App, member: &Member) -> Result<Child, ApiError> {
    let id = id_in_path(parts, app, "child").await.ok_or(ApiError::NotFound("child"))?;
    children::one(&app.db, member.class.key, id.into()).await?.ok_or(ApiError::NotFound("child"))
}

/// A child of the class that the path names, for whoever may open the class.
#[derive(Clone, Debug)]
pub struct ChildInClass {
    /// Who asks, and the class.
    pub member: Member,
    /// The child.
    pub child: Child,
}

impl FromRequestParts<App> for ChildInClass {
    type Rejection = ApiError;

    async fn from_request_parts(parts: &mut Parts, app: &App) -> Result<Self, ApiError> {
        let InClass(member) = InClass::from_request_parts(parts, app).await?;
        let child = child_in_path(parts, app, &member).await?;
        Ok(Self { member, child })
    }
}

/// A child of the class that the path names, for a member of it.
#[derive(Clone, Debug)]
pub struct MemberOfChild {
    /// Who asks, and the class.
    pub member: Member,
    /// The child.
    pub child: Child,
}

impl FromRequestParts<App> for MemberOfChild {
    type Rejection = ApiError;

    async fn from_request_parts(parts: &mut Parts, app: &App) -> Result<Self, ApiError> {
        let member = Member::from_request_parts(parts, app).await?;
        let child = child_in_path(parts, app, &member).await?;
        Ok(Self { member, child })
    }
}

/// A child of the class that the path names, for a director of it.
#[derive(Clone, Debug)]
pub struct DirectorOfChild {
    /// Who asks, and the class.
    pub member: Member,
    /// The child.
    pub child: Child,
}

impl FromRequestParts<App> for DirectorOfChild {
    type Rejection = ApiError;

    async fn from_request_parts(parts: &mut Parts, app: &App) -> Result<Self, ApiError> {
        let Director(member) = Director::from_request_parts(parts, app).await?;
        let child = child_in_path(parts, app, &member).await?;
        Ok(Self { member, child })
    }
}

/// A director of the class that the path names, while it is not archived.
#[derive(Clone, Debug)]
pub struct Director(pub Member);

impl FromRequestParts<App> for Director {
    type Rejection = ApiError;

    async fn from_request_parts(parts: &mut Parts, app: &App) -> Result<Self, ApiError> {
        let member = Member::from_request_parts(parts, app).await?;
        may_change(member.role)?;
        if member.class.archived_at.is_some() { Err(ApiError::Archived) } else { Ok(Self(member)) }
    }
}

/// Directors change classes, children and settings; assistants read and record.
///
/// # Errors
/// [`ApiError::DirectorsOnly`].
pub fn may_change(role: Role) -> Result<(), ApiError> {
    if role.may_change() { Ok(()) } else { Err(ApiError::DirectorsOnly) }
}

/// An owner of the program that the path names; anybody else of the program hears that it is for owners, and others that there
/// is no such program.
#[derive(Clone, Copy, Debug)]
pub struct Owner {
    /// Who asks.
    pub account: AccountId,
    /// The program.
    pub program: ProgramId,
}

impl FromRequestParts<App> for Owner {
    type Rejection = ApiError;

    async fn from_request_parts(parts: &mut Parts, app: &App) -> Result<Self, ApiError> {
        let SignedIn(account) = SignedIn::from_request_parts(parts, app).await?;
        let id = id_in_path(parts, app, "program").await.ok_or(ApiError::NotFound("program"))?;
        let programs = accounts::programs_of(&app.db, account, app.now()).await?;
        let here = programs.into_iter().find(|program| program.id == id.into()).ok_or(ApiError::NotFound("program"))?;
        if here.role != Role::Owner {
            return Err(ApiError::OwnersOnly);
        }
        if here.wants_second_factor {
            return Err(ApiError::SecondFactorFirst);
        }
        Doer::in_program(parts, here.id);
        Ok(Self { account, program: here.id })
    }
}

/// An owner of the program of the class that the path names, archived or not.
#[derive(Clone, Debug)]
pub struct OwnerOfClass(pub Member);

impl FromRequestParts<App> for OwnerOfClass {
    type Rejection = ApiError;

    async fn from_request_parts(parts: &mut Parts, app: &App) -> Result<Self, ApiError> {
        let member = Member::from_request_parts(parts, app).await?;
        if member.role == Role::Owner { Ok(Self(member)) } else { Err(ApiError::OwnersOnly) }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn only_owners_and_directors_may_change_what_is_not_an_observation() {
        for role in Role::ALL {
            assert_eq!(may_change(*role).is_ok(), matches!(role, Role::Owner | Role::Director), "{role:?}");
        }
    }
}
