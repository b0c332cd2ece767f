//! How the letters of a file were read, and how somebody who knows the names says that they are to be read.

use bright_row_documents::letters::Letters;
use serde::Serialize;
use utoipa::ToSchema;

use crate::error::{ApiError, FieldError};

/// A way in which a file's letters could be read.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct LettersView {
    /// `western`, `cyrillic` ...: what `letters` asks for.
    letters: &'static str,
    /// Words of the file read so.
    words: String,
}

/// The ways of a file that does not say how it is written, the way taken first; empty for a file that does.
pub(crate) fn views(samples: Vec<(Letters, String)>) -> Vec<LettersView> {
    samples.into_iter().map(|(way, words)| LettersView { letters: way.word(), words }).collect()
}

/// The way that was asked for.
///
/// # Errors
/// [`ApiError::Invalid`] for a word that is none.
pub(crate) fn asked(word: Option<&str>) -> Result<Option<Letters>, ApiError> {
    let unknown =
        || ApiError::Invalid(vec![FieldError::new("letters", "Choose one of the ways that the preview names.")]);
    word.map(|word| Letters::parse(word).ok_or_else(unknown)).transpose()
}
