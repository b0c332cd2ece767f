//! The people of a program, for its owners.

use std::collections::BTreeSet;

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use bright_row_core::role::Role;
use bright_row_core::setup::roster::MAX_ACCOUNT_NAME_LENGTH;
use bright_row_core::{AccountId, ClassId};
use bright_row_store::accounts::invitations::{self, Invitation};
use bright_row_store::accounts::people::{self, Person};
use bright_row_store::accounts::{self};
use bright_row_store::classes;
use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};
use serde_with::skip_serializing_none;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::auth::guard::Owner;
use crate::error::ApiError;
use crate::error::answers::{ForOwners, ForOwnersWriting};
use crate::extract::fields::Fields;
use crate::extract::{AccountInPath, Body, InvitationInPath};
use crate::state::App;
use crate::use_cases::people::{self as people_of, LONGEST_SUBSTITUTE, Wanted};

/// The people of a program, and who is invited.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct PeopleView {
    program_name: String,
    people: Vec<PersonView>,
    /// Those that can still be used.
    invitations: Vec<InvitationView>,
    /// The classes that can be given, by name, with the end of today's meeting where one is left.
    classes: Vec<GivenClass>,
}

/// Somebody of a program.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct PersonView {
    id: AccountId,
    display_name: String,
    /// Empty for a substitute.
    email: String,
    role: Role,
    /// Until when a substitute is let in.
    until: Option<DateTime<Utc>>,
    /// The classes that were given; an owner has all.
    classes: Vec<ClassId>,
    /// When one of their devices that are signed in was last used.
    last_used_at: Option<DateTime<Utc>>,
    second_factor: bool,
    /// The one who asks.
    you: bool,
    /// A program always has an owner: this one cannot go, nor be one no more.
    last_owner: bool,
}

/// An invitation that can still be used.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct InvitationView {
    id: Uuid,
    role: Role,
    /// Whom it is for.
    name: String,
    classes: Vec<ClassId>,
    /// Until when a substitute is let in.
    until: Option<DateTime<Utc>>,
    expires_at: DateTime<Utc>,
}

impl From<Invitation> for InvitationView {
    fn from(invitation: Invitation) -> Self {
        Self {
            id: invitation.id,
            role: invitation.role,
            name: invitation.name,
            classes: invitation.classes.into_iter().collect(),
            until: invitation.until,
            expires_at: invitation.expires_at,
        }
    }
}

/// A class that can be given.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct GivenClass {
    id: ClassId,
    name: String,
    /// The end of the day where the class meets.
    day_ends_at: DateTime<Utc>,
}

/// Whom to invite.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct InvitationBody {
    role: Role,
    /// A substitute's name, as colleagues will read it; for others whom the link is for.
    #[serde(default)]
    name: String,
    /// The classes that are given; one for a substitute, none for an owner.
    #[serde(default)]
    classes: BTreeSet<ClassId>,
    /// Until when a substitute is let in: the end of today by default, two weeks ahead at most.
    until: Option<DateTime<Utc>>,
}

/// An invitation with the secret of its link, which is said this once.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct NewInvitation {
    #[serde(flatten)]
    invitation: InvitationView,
    /// Goes behind the `#` of the page's address, so that it is in no log.
    secret: String,
}

/// A role with the classes that are given.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct RoleBody {
    role: Role,
    #[serde(default)]
    classes: BTreeSet<ClassId>,
}

/// A link to a new password.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct PasswordLink {
    /// Goes behind the `#` of the page's address, so that it is in no log.
    secret: String,
    expires_at: DateTime<Utc>,
}

/// The people of a program; owners only.
#[utoipa::path(get, path = "/api/programs/{program}/people", tag = "people",
    params(("program" = Uuid, Path, description = "The program")),
    responses((status = 200, body = PeopleView), ForOwners))]
pub async fn people(State(app): State<App>, owner: Owner) -> Result<Json<PeopleView>, ApiError> {
    let mut all = people::of_program(&app.db, owner.program).await?;
    all.retain(|person| person.until.is_none_or(|until| until > app.now()));
    let owners = all.iter().filter(|person| person.role == Role::Owner).count();
    let person = |person: Person| PersonView {
        id: person.account,
        display_name: person.display_name,
        email: person.email,
        role: person.role,
        until: person.until,
        classes: person.classes.into_iter().collect(),
        last_used_at: person.last_used_at,
        second_factor: person.second_factor,
        you: person.account == owner.account,
        last_owner: person.role == Role::Owner && owners == 1,
    };
    let open = invitations::open(&app.db, owner.program, app.now()).await?;
    let classes = classes::of_program(&app.db, owner.program, None).await?;
    let programs = accounts::programs_of(&app.db, owner.account, app.now()).await?;
    let name = programs.into_iter().find(|program| program.id == owner.program).map(|program| program.name);
    let class = |class: classes::Class| GivenClass {
        id: class.key.class,
        day_ends_at: class.calendar.begins(class.calendar.day_of(app.now()) + chrono::Days::new(1)),
        name: class.name,
    };
    Ok(Json(PeopleView {
        program_name: name.unwrap_or_default(),
        people: all.into_iter().map(person).collect(),
        invitations: open.into_iter().map(Into::into).collect(),
        classes: classes.into_iter().filter(|class| class.archived_at.is_none()).map(class).collect(),
    }))
}

/// Invites somebody by a link, a substitute by a code; owners only.
#[utoipa::path(post, path = "/api/programs/{program}/invitations", tag = "people",
    params(("program" = Uuid, Path, description = "The program")), request_body = InvitationBody,
    responses((status = 201, body = NewInvitation), ForOwnersWriting))]
pub async fn invite(
    State(app): State<App>,
    owner: Owner,
    Body(body): Body<InvitationBody>,
) -> Result<(StatusCode, Json<NewInvitation>), ApiError> {
    let mut fields = Fields::default();
    let is_substitute = body.role == Role::Substitute;
    let name = if is_substitute {
        fields.name::<MAX_ACCOUNT_NAME_LENGTH>("name", &body.name)
    } else {
        fields.line::<MAX_ACCOUNT_NAME_LENGTH>("name", &body.name)
    };
    let right_number = match body.role {
        Role::Owner => true,
        Role::Substitute => body.classes.len() == 1,
        Role::Director | Role::Assistant => !body.classes.is_empty(),
    };
    fields.require(right_number, "classes", "Choose the classes to give; one for a substitute.");
    let mut until = None;
    if is_substitute && right_number {
        let today = match classes::of_program(&app.db, owner.program, Some(body.classes.clone())).await?.pop() {
            Some(class) => class.calendar.begins(class.calendar.day_of(app.now()) + chrono::Days::new(1)),
            None => return Err(ApiError::NotFound("class")),
        };
        let wanted = body.until.unwrap_or(today);
        let possible = app.now() < wanted && wanted <= app.now() + LONGEST_SUBSTITUTE;
        fields.require(possible, "until", "A substitute is let in until a time to come, two weeks ahead at most.");
        until = Some(wanted);
    }
    fields.finish()?;
    let classes = if body.role == Role::Owner { BTreeSet::new() } else { body.classes };
    let wanted = Wanted { role: body.role, name, classes, until };
    let (invitation, secret) = people_of::invite(&app, owner, wanted).await?;
    Ok((StatusCode::CREATED, Json(NewInvitation { invitation: invitation.into(), secret })))
}

/// Takes an invitation back; owners only.
#[utoipa::path(delete, path = "/api/programs/{program}/invitations/{invitation}", tag = "people",
    params(
        ("program" = Uuid, Path, description = "The program"), ("invitation" = Uuid, Path, description = "The invitation"),
    ),
    responses((status = 204, description = "Taken back"), ForOwners))]
pub async fn revoke(
    State(app): State<App>,
    owner: Owner,
    InvitationInPath(invitation): InvitationInPath,
) -> Result<StatusCode, ApiError> {
    let there = invitations::revoke(&app.db, owner.program, invitation, app.now()).await?;
    if there { Ok(StatusCode::NO_CONTENT) } else { Err(ApiError::NotFound("invitation that can be used")) }
}

/// Gives somebody another role and other classes, at once; owners only.
#[utoipa::path(put, path = "/api/programs/{program}/people/{account}", tag = "people",
    params(("program" = Uuid, Path, description = "The program"), ("account" = Uuid, Path, description = "The person")),
    request_body = RoleBody,
    responses((status = 204, description = "Counts from now on"), ForOwnersWriting))]
pub async fn set_role(
    State(app): State<App>,
    owner: Owner,
    AccountInPath(account): AccountInPath,
    Body(body): Body<RoleBody>,
) -> Result<StatusCode, ApiError> {
    let mut fields = Fields::default();
    fields.require(body.role != Role::Substitute, "role", "A substitute comes by a code of their own.");
    fields.finish()?;
    let classes = if body.role == Role::Owner { BTreeSet::new() } else { body.classes };
    people_of::set_role(&app, owner, account, body.role, &classes).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Lets somebody go, at once; what they recorded stays, with their name. Owners only.
#[utoipa::path(delete, path = "/api/programs/{program}/people/{account}", tag = "people",
    params(("program" = Uuid, Path, description = "The program"), ("account" = Uuid, Path, description = "The person")),
    responses((status = 204, description = "Let go"), ForOwnersWriting))]
pub async fn remove_person(
    State(app): State<App>,
    owner: Owner,
    AccountInPath(account): AccountInPath,
) -> Result<StatusCode, ApiError> {
    people_of::remove(&app, owner, account).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Makes somebody who forgot the password a link to a new one, once, for a day; owners only.
#[utoipa::path(post, path = "/api/programs/{program}/people/{account}/password-link", tag = "people",
    params(("program" = Uuid, Path, description = "The program"), ("account" = Uuid, Path, description = "The person")),
    responses((status = 201, body = PasswordLink), ForOwners))]
pub async fn make_password_link(
    State(app): State<App>,
    owner: Owner,
    AccountInPath(account): AccountInPath,
) -> Result<(StatusCode, Json<PasswordLink>), ApiError> {
    let all = people::of_program(&app.db, owner.program).await?;
    let person = all.iter().find(|person| person.account == account && !person.email.is_empty());
    // The owner of one program must not come into another as somebody else.
    let elsewhere = accounts::programs_of(&app.db, account, app.now()).await?.iter().any(|of| of.id != owner.program);
    if person.is_none() || elsewhere {
        return Err(ApiError::NotFound("person whose password you can renew"));
    }
    let (secret, expires_at) = people_of::password_link(&app.db, account, Some(owner.account), app.now()).await?;
    Ok((StatusCode::CREATED, Json(PasswordLink { secret, expires_at })))
}
