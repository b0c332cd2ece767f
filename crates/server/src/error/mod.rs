//! Every error the API answers, as an RFC 9457 problem.

pub mod again;
pub mod answers;
pub mod problem;

use axum::extract::rejection::{JsonRejection, QueryRejection};
use axum::http::{StatusCode, header};
use axum::response::{IntoResponse, Response};
use bright_row_store::StoreError;
use tower_sessions::session;

pub use problem::{FieldError, Present, Problem};

/// Everything that a handler may fail with.
#[derive(Debug)]
pub enum ApiError {
    /// No session.
    SignInFirst,
    /// Wrong address or password.
    WrongSignIn,
    /// Address and password are right; a code is wanted besides.
    CodeWanted,
    /// The code is none, or was used.
    WrongCode,
    /// The demo's people sign in on the server's own machine only.
    DemoElsewhere,
    /// The program demands a second factor that this account has not yet.
    SecondFactorFirst,
    /// Too many tries; wait so many seconds.
    TooManyTries(i64),
    /// The role does not allow it.
    DirectorsOnly,
    /// Only an owner of the program may do it.
    OwnersOnly,
    /// A substitute has no business with it.
    NotForSubstitutes,
    /// The class is over.
    Archived,
    /// A program always has an owner.
    LastOwner,
    /// The link was used, taken back, or is too old.
    LinkOver,
    /// A browser says that the page of another site asks.
    OtherSite,
    /// It took longer than anything may.
    TooLong,
    /// There is no such thing, or it is not for the one who asks.
    NotFound(&'static str),
    /// No route of this path.
    NoSuchPath,
    /// The path knows other methods.
    NoSuchMethod,
    /// The request cannot be read.
    Malformed {
        /// 400, 413, 415 or 422.
        status: StatusCode,
        /// What is wrong with it.
        detail: String,
    },
    /// Fields that cannot be.
    Invalid(Vec<FieldError>),
    /// It is there already.
    Conflict(&'static str),
    /// A change is based on another version than is there.
    ChangedMeanwhile(Box<Present>),
    /// More requests are under way than can be.
    Busy,
    /// The store failed.
    Store(StoreError),
    /// The session could not be read or kept.
    Session(session::Error),
    /// A fault of ours; the text goes to the log.
    Internal(String),
}

impl From<StoreError> for ApiError {
    fn from(error: StoreError) -> Self {
        Self::Store(error)
    }
}

impl From<session::Error> for ApiError {
    fn from(error: session::Error) -> Self {
        Self::Session(error)
    }
}

impl From<JsonRejection> for ApiError {
    fn from(rejection: JsonRejection) -> Self {
        Self::Malformed { status: rejection.status(), detail: rejection.body_text() }
    }
}

impl From<QueryRejection> for ApiError {
    fn from(rejection: QueryRejection) -> Self {
        Self::Malformed { status: rejection.status(), detail: rejection.body_text() }
    }
}

/// After how many seconds it is worth trying again what the database had no time for.
const SECONDS_UNTIL_AGAIN: i64 = 2;
const OURS: &str = "Something went wrong on the server. Nothing you typed is lost: try again in a moment.";
const DATABASE_DOWN: &str = "The database does not answer. Nothing you typed is lost: try again in a moment.";

impl ApiError {
    /// What somebody hears who may not come in, or not so far.
    fn at_the_door(&self) -> Option<(StatusCode, &'static str, &'static str, String)> {
        Some(match self {
            Self::SignInFirst => (
                StatusCode::UNAUTHORIZED,
                "sign-in-first",
                "Not signed in",
                "Sign in first; what you typed is kept on this page.".to_owned(),
            ),
            Self::WrongSignIn => (
                StatusCode::UNAUTHORIZED,
                "wrong-sign-in",
                "Sign-in did not work",
                "This e-mail address and password do not belong together. Check both and try again.".to_owned(),
            ),
            Self::CodeWanted => (
                StatusCode::UNAUTHORIZED,
                "code-wanted",
                "A code is wanted too",
                "Type the six digits that your second device shows now, or one of your recovery codes.".to_owned(),
            ),
            Self::WrongCode => (
                StatusCode::UNAUTHORIZED,
                "wrong-code",
                "The code did not work",
                "Wait for the next code and type that one, or take a recovery code that was not used yet.".to_owned(),
            ),
            Self::DemoElsewhere => (
                StatusCode::FORBIDDEN,
                "demo-elsewhere",
                "The demo is for the server's own machine",
                "The demo's password is known to everybody, so its people sign in only on the machine that runs the server. \
                 Begin with your own school there, or ask an owner for an invitation."
                    .to_owned(),
            ),
            Self::SecondFactorFirst => (
                StatusCode::FORBIDDEN,
                "second-factor-first",
                "A second factor is wanted",
                "The owner of this program asks everybody for a second factor. Set one up under Account; then this opens."
                    .to_owned(),
            ),
            Self::OwnersOnly => (
                StatusCode::FORBIDDEN,
                "owners-only",
                "Only an owner may do this",
                "People and keeping are in the hands of the program's owners. Ask one of them.".to_owned(),
            ),
            Self::NotForSubstitutes => (
                StatusCode::FORBIDDEN,
                "not-for-substitutes",
                "Not for a substitute",
                "As a substitute you have the room, the round, the lesson and the tapes of this class. Ask a director for more."
                    .to_owned(),
            ),
            Self::Archived => (
                StatusCode::CONFLICT,
                "class-archived",
                "The class is archived",
                "An archived class can be read and changes no more. An owner can open it again under Classes.".to_owned(),
            ),
            Self::LastOwner => (
                StatusCode::CONFLICT,
                "last-owner",
                "The last owner",
                "A program always has an owner. Make somebody else an owner first; nothing was changed.".to_owned(),
            ),
            Self::LinkOver => (
                StatusCode::GONE,
                "link-over",
                "The link is over",
                "This link was used, taken back, or is too old. Ask whoever gave it to you for another.".to_owned(),
            ),
            Self::OtherSite => (
                StatusCode::FORBIDDEN,
                "other-site",
                "Not from here",
                "Another site's page asked for this. Nothing was changed: open Bright Row itself and do it there.".to_owned(),
            ),
            Self::TooManyTries(seconds) => (
                StatusCode::TOO_MANY_REQUESTS,
                "too-many-tries",
                "Too many tries",
                format!("Wait {seconds} s, then try again."),
            ),
            Self::DirectorsOnly => (
                StatusCode::FORBIDDEN,
                "directors-only",
                "Only a director may do this",
                "As an assistant you can read and record observations. Ask a director of the program to do this."
                    .to_owned(),
            ),
            _ => return None,
        })
    }

    fn problem(&self) -> Problem {
        let (status, kind, title, detail) = self.at_the_door().unwrap_or_else(|| self.in_the_house());
        match self {
            Self::Busy => return busy(),
            Self::Store(error) => return store_problem(error),
            _ => {}
        }
        let errors = if let Self::Invalid(errors) = self { errors.clone() } else { Vec::new() };
        let present = if let Self::ChangedMeanwhile(present) = self { Some((**present).clone()) } else { None };
        Problem { present, ..build(status, kind, title, detail, errors) }
    }

    /// What went wrong with a request of somebody who may.
    fn in_the_house(&self) -> (StatusCode, &'static str, &'static str, String) {
        match self {
            Self::TooLong => (
                StatusCode::REQUEST_TIMEOUT,
                "took-too-long",
                "It took too long",
                "The request was not whole, or not answered, in time. Nothing you typed is lost: try again.".to_owned(),
            ),
            Self::NotFound(what) => {
                (StatusCode::NOT_FOUND, "not-found", "Not there", format!("There is no such {what}, or not for you."))
            }
            Self::NoSuchPath => {
                (StatusCode::NOT_FOUND, "no-such-path", "Not there", "The API has no such path.".to_owned())
            }
            Self::NoSuchMethod => (
                StatusCode::METHOD_NOT_ALLOWED,
                "no-such-method",
                "Not possible here",
                "This path does not know that method.".to_owned(),
            ),
            Self::Malformed { status, detail } => (
                *status,
                "malformed",
                "The request cannot be read",
                format!("{}. Nothing was changed.", detail.trim_end_matches('.')),
            ),
            Self::Invalid(_) => (
                StatusCode::UNPROCESSABLE_ENTITY,
                "not-valid",
                "Some of it cannot be",
                "Nothing was changed. See the fields named here.".to_owned(),
            ),
            Self::ChangedMeanwhile(_) => (
                StatusCode::PRECONDITION_FAILED,
                "changed-meanwhile",
                "Changed meanwhile",
                "Somebody else saved this meanwhile. Nothing was changed: look at both, then decide.".to_owned(),
            ),
            Self::Conflict(what) => (StatusCode::CONFLICT, "conflict", "Already there", (*what).to_owned()),
            Self::Session(session::Error::Store(_)) => {
                (StatusCode::SERVICE_UNAVAILABLE, "database-down", "Not now", DATABASE_DOWN.to_owned())
            }
            // What somebody hears at the door is said above.
            _ => (StatusCode::INTERNAL_SERVER_ERROR, "internal", "Our fault", OURS.to_owned()),
        }
    }
}

fn build(status: StatusCode, kind: &str, title: &str, detail: String, errors: Vec<FieldError>) -> Problem {
    Problem {
        kind: format!("/problems/{kind}"),
        title: title.to_owned(),
        status: status.as_u16(),
        detail,
        errors,
        present: None,
    }
}

fn busy() -> Problem {
    let detail = "The server has more to do than it can at this moment. Nothing was changed, and nothing you typed is lost: \
                  try again in a few seconds.";
    build(StatusCode::SERVICE_UNAVAILABLE, "too-busy", "Busy just now", detail.to_owned(), Vec::new())
}

fn store_problem(error: &StoreError) -> Problem {
    let (status, kind, title, detail) = match error {
        StoreError::Conflict => {
            (StatusCode::CONFLICT, "conflict", "Already there", "It is there already. Nothing was changed.")
        }
        StoreError::Reference => (
            StatusCode::CONFLICT,
            "conflict",
            "Changed meanwhile",
            "Something it refers to is gone. Load the page again; nothing was changed.",
        ),
        StoreError::Unavailable(_) => (StatusCode::SERVICE_UNAVAILABLE, "database-down", "Not now", DATABASE_DOWN),
        StoreError::TryAgain(_) | StoreError::Busy(_) => return busy(),
        StoreError::DiskFull => (
            StatusCode::SERVICE_UNAVAILABLE,
            "disk-full",
            "The disk is full",
            "The server's disk is full. What was stored is kept: free some space, then try again.",
        ),
        StoreError::Unreadable { .. } | StoreError::Address(_) | StoreError::Database(_) => {
            (StatusCode::INTERNAL_SERVER_ERROR, "internal", "Our fault", OURS)
        }
    };
    build(status, kind, title, detail.to_owned(), Vec::new())
}

impl IntoResponse for ApiError {
    fn into_response(self) -> Response {
        let problem = self.problem();
        if problem.status >= 500 {
            tracing::error!(error = ?self, "answered {}", problem.status);
        }
        let status = StatusCode::from_u16(problem.status).unwrap_or(StatusCode::INTERNAL_SERVER_ERROR);
        let mut response = (status, axum::Json(problem)).into_response();
        response
            .headers_mut()
            .insert(header::CONTENT_TYPE, header::HeaderValue::from_static("application/problem+json"));
        let again = match self {
            Self::TooManyTries(seconds) => Some(seconds),
            Self::Busy | Self::Session(session::Error::Store(_)) => Some(SECONDS_UNTIL_AGAIN),
            Self::Store(StoreError::TryAgain(_) | StoreError::Busy(_) | StoreError::Unavailable(_)) => {
                Some(SECONDS_UNTIL_AGAIN)
            }
            _ => None,
        };
        if let Some(seconds) = again {
            response.headers_mut().insert(header::RETRY_AFTER, header::HeaderValue::from(seconds));
        }
        if matches!(self, Self::Store(StoreError::TryAgain(_))) {
            response.extensions_mut().insert(again::Undone);
        }
        response
    }
}

#[cfg(test)]
mod tests {
    use std::collections::BTreeSet;

    use super::*;

    #[test]
    fn every_kind_of_problem_is_in_the_catalogue_and_no_other() {
        let source = include_str!("mod.rs");
        let code = source.split("#[cfg(test)]").next().unwrap_or_default();
        // In the code a kind is the only text in lower case with nothing but letters and hyphens.
        let texts = code.split('"').skip(1).step_by(2);
        let is_kind = |text: &&str| text.len() > 7 && text.chars().all(|c| c.is_ascii_lowercase() || c == '-');
        let in_code: BTreeSet<&str> = texts.filter(is_kind).filter(|text| *text != "camelCase").collect();
        let catalogue = include_str!("../../../../docs/api-errors.md");
        let rows = catalogue.lines().filter_map(|line| line.strip_prefix("| `/problems/")?.split('`').next());
        assert_eq!(in_code, rows.collect::<BTreeSet<_>>());
    }

    #[test]
    fn a_fault_of_ours_says_nothing_of_its_cause() {
        let secret = "relation \"observation\" of user postgres at 10.0.0.1".to_owned();
        let unreadable = StoreError::Unreadable { what: "level", value: secret.clone() };
        for error in [ApiError::Internal(secret), ApiError::Store(unreadable)] {
            let problem = serde_json::to_string(&error.problem()).expect("JSON");
            assert!(!problem.contains("relation") && !problem.contains("10.0.0.1"), "{problem}");
            assert!(problem.contains("500"));
        }
    }
}
