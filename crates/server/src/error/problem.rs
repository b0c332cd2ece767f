//! What an error looks like when it is answered.

use serde::Serialize;
use serde_with::skip_serializing_none;
use utoipa::ToSchema;

/// A problem as RFC 9457 describes it.
#[derive(Debug, Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct Problem {
    /// What kind of problem, stable for programs.
    #[serde(rename = "type")]
    #[schema(example = "/problems/not-valid")]
    pub kind: String,
    /// The kind in words.
    pub title: String,
    /// The HTTP status.
    pub status: u16,
    /// What happened, what was kept and what to do.
    pub detail: String,
    /// What is wrong with which field.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    #[schema(required = false)]
    pub errors: Vec<FieldError>,
    /// What is there now, where somebody else changed it meanwhile.
    #[serde(flatten)]
    pub present: Option<Present>,
}

/// A document as it is now.
#[skip_serializing_none]
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct Present {
    /// Its version, for `If-Match`; absent: it is gone.
    pub version: Option<String>,
    /// The document, shaped as it is read.
    #[schema(value_type = Option<Object>)]
    pub document: Option<serde_json::Value>,
}

/// What is wrong with one field.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct FieldError {
    /// The field's name in the body.
    pub field: String,
    /// What is wrong and what to do.
    pub detail: String,
}

impl FieldError {
    /// What is wrong with `field`.
    pub fn new(field: &str, detail: impl Into<String>) -> Self {
        Self { field: field.to_owned(), detail: detail.into() }
    }
}
