//! Documents that are written whole: each writer says which version the change is based on, so that nobody overwrites unseen what
//! somebody else kept meanwhile (RFC 9110, 13.1).

use axum::extract::FromRequestParts;
use axum::http::header::{ETAG, HeaderName, HeaderValue, IF_MATCH, IF_NONE_MATCH};
use axum::http::request::Parts;
use axum::http::{HeaderMap, StatusCode};
use serde::Serialize;
use utoipa::IntoParams;

use crate::digest::digest;
use crate::error::{ApiError, Present};

/// The version of a document: other documents have others.
///
/// # Panics
/// Never: documents are plain data with text as keys.
pub fn version<T: Serialize>(document: &T) -> String {
    digest(&serde_json::to_string(document).expect("plain data is JSON"))
}

/// The header that carries a version.
#[must_use]
pub fn etag(version: &str) -> [(HeaderName, HeaderValue); 1] {
    let value = HeaderValue::from_str(&format!("\"{version}\"")).unwrap_or(HeaderValue::from_static("\"\""));
    [(ETAG, value)]
}

/// The headers, for the description of the API.
#[derive(IntoParams)]
#[into_params(parameter_in = Header)]
#[allow(dead_code)]
pub struct BasedOnHeaders {
    /// The version, in quotes, that the change is based on: another one is there, and 412 answers it. Absent: whatever is there.
    #[param(rename = "If-Match")]
    if_match: Option<String>,
}

/// What a change is based on.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum BasedOn {
    /// Whatever is there.
    Anything,
    /// Nothing: there is none yet.
    Nothing,
    /// One of these versions.
    Versions(Vec<String>),
}

/// The most versions that are read.
const MAX_VERSIONS: usize = 8;

impl BasedOn {
    fn read(headers: &HeaderMap) -> Option<Self> {
        let text = |name| headers.get(&name).map(|value: &HeaderValue| value.to_str().ok());
        match (text(IF_MATCH), text(IF_NONE_MATCH)) {
            (None | Some(Some("*")), None) => Some(Self::Anything),
            (None, Some(Some("*"))) => Some(Self::Nothing),
            (Some(Some(list)), None) => {
                let tags = list.split(',').map(|tag| {
                    let inside = tag.trim().strip_prefix('"')?.strip_suffix('"')?;
                    Some(inside.to_owned())
                });
                let tags: Vec<String> = tags.collect::<Option<_>>()?;
                (tags.len() <= MAX_VERSIONS).then_some(Self::Versions(tags))
            }
            _ => None,
        }
    }

    /// Refuses where what is there is neither what the change is based on nor what is wanted: the same sent again is no change.
    ///
    /// # Errors
    /// [`ApiError::ChangedMeanwhile`] with what is there.
    pub fn allow<T: Serialize>(&self, there: Option<&T>, wanted: &T) -> Result<(), ApiError> {
        let present = there.map(version);
        let agreed = match (self, &present) {
            (Self::Anything, _) | (Self::Nothing, None) => true,
            (Self::Versions(known), Some(present)) => known.contains(present),
            (Self::Nothing, Some(_)) | (Self::Versions(_), None) => false,
        };
        if agreed || present.as_ref() == Some(&version(wanted)) {
            return Ok(());
        }
        let document = there.and_then(|there| serde_json::to_value(there).ok());
        Err(ApiError::ChangedMeanwhile(Box::new(Present { version: present, document })))
    }
}

impl<S: Send + Sync> FromRequestParts<S> for BasedOn {
    type Rejection = ApiError;

    async fn from_request_parts(parts: &mut Parts, _: &S) -> Result<Self, ApiError> {
        let detail = || "If-Match takes versions in quotes, If-None-Match takes *".to_owned();
        let malformed = || ApiError::Malformed { status: StatusCode::BAD_REQUEST, detail: detail() };
        Self::read(&parts.headers).ok_or_else(malformed)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use serde_json::json;

    fn read(headers: &[(HeaderName, &str)]) -> Option<BasedOn> {
        let headers =
            headers.iter().map(|(name, value)| (name.clone(), HeaderValue::from_str(value).expect("a value")));
        BasedOn::read(&headers.collect())
    }

    #[test]
    fn headers_are_read_and_what_cannot_be_is_refused() {
        let versions = |all: &[&str]| Some(BasedOn::Versions(all.iter().map(|one| (*one).to_owned()).collect()));
        assert_eq!(read(&[]), Some(BasedOn::Anything));
        assert_eq!(read(&[(IF_MATCH, "*")]), Some(BasedOn::Anything));
        assert_eq!(read(&[(IF_NONE_MATCH, "*")]), Some(BasedOn::Nothing));
        assert_eq!(read(&[(IF_MATCH, "\"a\"")]), versions(&["a"]));
        assert_eq!(read(&[(IF_MATCH, "\"a\", \"b\"")]), versions(&["a", "b"]));
        let many = ["\"a\""; MAX_VERSIONS + 1].join(",");
        for wrong in ["", "a", "W/\"a\"", "\"", "\"a\",", "\u{e4}", many.as_str()] {
            assert_eq!(read(&[(IF_MATCH, wrong)]), None, "{wrong}");
        }
        assert_eq!(read(&[(IF_NONE_MATCH, "\"a\"")]), None);
        assert_eq!(read(&[(IF_MATCH, "\"a\""), (IF_NONE_MATCH, "*")]), None);
    }

    #[test]
    fn a_change_of_what_is_there_is_allowed_and_one_of_something_else_is_answered_with_what_is_there() {
        let (one, two, three) = (json!(1), json!(2), json!(3));
        let on = |document| BasedOn::Versions(vec![version(document)]);
        assert!(on(&one).allow(Some(&one), &two).is_ok());
        assert!(on(&one).allow(Some(&two), &two).is_ok(), "the same sent again");
        assert!(BasedOn::Anything.allow(Some(&one), &two).is_ok());
        assert!(BasedOn::Nothing.allow(None, &two).is_ok());
        assert!(BasedOn::Nothing.allow(Some(&two), &two).is_ok(), "the same sent again");
        for (based_on, there) in [(on(&one), Some(&three)), (BasedOn::Nothing, Some(&one)), (on(&one), None)] {
            let refused = based_on.allow(there, &two);
            let Err(ApiError::ChangedMeanwhile(present)) = refused else { panic!("{refused:?}") };
            assert_eq!((present.document.as_ref(), present.version), (there, there.map(version)));
        }
    }
}
