//! Extractors: a handler that takes one of these cannot be reached by anybody else.

use axum::extract::FromRequestParts;
use axum::http::request::Parts;
use bright_row_core::AccountId;
use bright_row_core::role::Role;
use bright_row_store::children::{self, Child};
use bright_row_store::classes::{self, Class};

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
        session.account().await?.map(Self).ok_or(ApiError::SignInFirst)
    }
}

/// A member of the program whose class the path names; anybody else hears that there is no such class.
#[derive(Clone, Debug)]
pub struct Member {
    /// Who asks.
    pub account: AccountId,
    /// What they may do.
    pub role: Role,
    /// The class.
    pub class: Class,
}

impl FromRequestParts<App> for Member {
    type Rejection = ApiError;

    async fn from_request_parts(parts: &mut Parts, app: &App) -> Result<Self, ApiError> {
        let SignedIn(account) = SignedIn::from_request_parts(parts, app).await?;
        let id = id_in_path(parts, app, "class").await.ok_or(ApiError::NotFound("class"))?;
        let found = classes::for_account(&app.db, account, id.into()).await?;
        let (class, role) = found.ok_or(ApiError::NotFound("class"))?;
        Ok(Self { account, role, class })
    }
}

/// A child of the class that the path names, for a member of its program.
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
        let id = id_in_path(parts, app, "child").await.ok_or(ApiError::NotFound("child"))?;
        let child = children::one(&app.db, member.class.key, id.into()).await?.ok_or(ApiError::NotFound("child"))?;
        Ok(Self { member, child })
    }
}

/// A child of the class that the path names, for a director of its program.
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
        let MemberOfChild { member, child } = MemberOfChild::from_request_parts(parts, app).await?;
        may_change(member.role)?;
        Ok(Self { member, child })
    }
}

/// A director of the program whose class the path names.
#[derive(Clone, Debug)]
pub struct Director(pub Member);

impl FromRequestParts<App> for Director {
    type Rejection = ApiError;

    async fn from_request_parts(parts: &mut Parts, app: &App) -> Result<Self, ApiError> {
        let member = Member::from_request_parts(parts, app).await?;
        may_change(member.role)?;
        Ok(Self(member))
    }
}

/// Directors change classes, children and settings; assistants read and observation.
///
/// # Errors
/// [`ApiError::DirectorsOnly`].
pub fn may_change(role: Role) -> Result<(), ApiError> {
    match role {
        Role::Director => Ok(()),
        Role::Assistant => Err(ApiError::DirectorsOnly),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn only_a_director_may_change_what_is_not_a_observation() {
        assert!(may_change(Role::Director).is_ok());
        assert!(matches!(may_change(Role::Assistant), Err(ApiError::DirectorsOnly)));
    }
}
