//! What a handler may answer instead of what was asked for, as the description of the API lists it.

use utoipa::IntoResponses;

use super::Problem;

/// What a member of the program may be answered instead of what was asked for.
#[derive(IntoResponses)]
pub enum ForMembers {
    /// Nobody is signed in.
    #[response(status = 401, content_type = "application/problem+json")]
    SignInFirst(Problem),
    /// There is no such thing, or not for the one who asks.
    #[response(status = 404, content_type = "application/problem+json")]
    NotFound(Problem),
}

/// The same, where what is asked may be impossible.
#[derive(IntoResponses)]
pub enum ForMembersAsking {
    /// Nobody is signed in.
    #[response(status = 401, content_type = "application/problem+json")]
    SignInFirst(Problem),
    /// There is no such thing, or not for the one who asks.
    #[response(status = 404, content_type = "application/problem+json")]
    NotFound(Problem),
    /// Some of it cannot be.
    #[response(status = 422, content_type = "application/problem+json")]
    Invalid(Problem),
}

/// What a director may be answered instead.
#[derive(IntoResponses)]
pub enum ForDirectors {
    /// Nobody is signed in.
    #[response(status = 401, content_type = "application/problem+json")]
    SignInFirst(Problem),
    /// Only a director may do this.
    #[response(status = 403, content_type = "application/problem+json")]
    DirectorsOnly(Problem),
    /// There is no such thing, or not for the one who asks.
    #[response(status = 404, content_type = "application/problem+json")]
    NotFound(Problem),
}

/// The same, where what is sent may be impossible.
#[derive(IntoResponses)]
pub enum ForDirectorsWriting {
    /// Nobody is signed in.
    #[response(status = 401, content_type = "application/problem+json")]
    SignInFirst(Problem),
    /// Only a director may do this.
    #[response(status = 403, content_type = "application/problem+json")]
    DirectorsOnly(Problem),
    /// There is no such thing, or not for the one who asks.
    #[response(status = 404, content_type = "application/problem+json")]
    NotFound(Problem),
    /// Some of it cannot be.
    #[response(status = 422, content_type = "application/problem+json")]
    Invalid(Problem),
}

/// The same, where a document is written whole.
#[derive(IntoResponses)]
pub enum ForDirectorsReplacing {
    /// Nobody is signed in.
    #[response(status = 401, content_type = "application/problem+json")]
    SignInFirst(Problem),
    /// Only a director may do this.
    #[response(status = 403, content_type = "application/problem+json")]
    DirectorsOnly(Problem),
    /// There is no such thing, or not for the one who asks.
    #[response(status = 404, content_type = "application/problem+json")]
    NotFound(Problem),
    /// Somebody else changed it meanwhile; what is there now goes with it.
    #[response(status = 412, content_type = "application/problem+json")]
    ChangedMeanwhile(Problem),
    /// Some of it cannot be.
    #[response(status = 422, content_type = "application/problem+json")]
    Invalid(Problem),
}

/// The same, where what is there may have changed.
#[derive(IntoResponses)]
pub enum ForDirectorsAgreeing {
    /// Nobody is signed in.
    #[response(status = 401, content_type = "application/problem+json")]
    SignInFirst(Problem),
    /// Only a director may do this.
    #[response(status = 403, content_type = "application/problem+json")]
    DirectorsOnly(Problem),
    /// There is no such thing, or not for the one who asks.
    #[response(status = 404, content_type = "application/problem+json")]
    NotFound(Problem),
    /// It changed meanwhile, or is there already.
    #[response(status = 409, content_type = "application/problem+json")]
    Conflict(Problem),
    /// Some of it cannot be.
    #[response(status = 422, content_type = "application/problem+json")]
    Invalid(Problem),
}

/// The same, where a file is sent.
#[derive(IntoResponses)]
pub enum ForDirectorsImporting {
    /// Nobody is signed in.
    #[response(status = 401, content_type = "application/problem+json")]
    SignInFirst(Problem),
    /// Only a director may do this.
    #[response(status = 403, content_type = "application/problem+json")]
    DirectorsOnly(Problem),
    /// There is no such thing, or not for the one who asks.
    #[response(status = 404, content_type = "application/problem+json")]
    NotFound(Problem),
    /// It changed meanwhile, or is there already.
    #[response(status = 409, content_type = "application/problem+json")]
    Conflict(Problem),
    /// The file is too large.
    #[response(status = 413, content_type = "application/problem+json")]
    TooLarge(Problem),
    /// Some of it cannot be.
    #[response(status = 422, content_type = "application/problem+json")]
    Invalid(Problem),
}
