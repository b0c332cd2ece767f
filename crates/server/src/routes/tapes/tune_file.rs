//! A tune out of a file: what the note map's page lays out then as one of its own.

use axum::Json;
use axum::extract::State;
use bright_row_documents::tune::{self, LeftOut};
use serde::Serialize;
use serde_with::skip_serializing_none;
use utoipa::ToSchema;

use crate::auth::guard::Member;
use crate::error::answers::ForMembersImporting;
use crate::error::{ApiError, FieldError};
use crate::extract::files::Upload;
use crate::state::App;

/// A tune that was read from a file.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct TuneRead {
    /// Empty where the file does not say it.
    name: String,
    /// As the note map takes it: `A4 | D5:4 C#5 B4`.
    notes: String,
    key: &'static str,
    /// `4/4`.
    meter: String,
    /// Beats a minute.
    tempo: Option<u16>,
    left_out: Vec<LeftOutOfTune>,
}

/// What of a file's music is not in the tune that was read from it.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub enum LeftOutOfTune {
    /// Parts or voices beside the first.
    Voices,
    /// Notes that sound together with another.
    Chords,
    /// Grace notes.
    Grace,
    /// What is played again: it is written once.
    Repeats,
    /// Further tunes of the file.
    Tunes,
}

impl From<LeftOut> for LeftOutOfTune {
    fn from(left: LeftOut) -> Self {
        match left {
            LeftOut::Voices => Self::Voices,
            LeftOut::Chords => Self::Chords,
            LeftOut::Grace => Self::Grace,
            LeftOut::Repeats => Self::Repeats,
            LeftOut::Tunes => Self::Tunes,
        }
    }
}

/// Reads a tune from a file, `MusicXML` (packed or not) or ABC; keeps nothing: the page lays it out.
#[utoipa::path(post, path = "/api/classes/{class}/notes/file", tag = "tapes",
    params(("class" = Uuid, Path, description = "The class")),
    request_body(content = Vec<u8>, content_type = "application/octet-stream"),
    responses(
        (status = 200, body = TuneRead),
        ForMembersImporting,
    ))]
pub async fn read_tune_file(
    State(app): State<App>,
    _member: Member,
    Upload(bytes): Upload,
) -> Result<Json<TuneRead>, ApiError> {
    let read = app.readers.read(move || tune::read(&bytes)).await?;
    let refused = |words: String| {
        let words = words.trim_end_matches('.');
        ApiError::Invalid(vec![FieldError::new("file", format!("Nothing was taken: {words}."))])
    };
    let tune::ReadTune { tune, left_out } = read.map_err(|error| refused(error.to_string()))?;
    Ok(Json(TuneRead {
        notes: tune.text(),
        key: tune.key.name().unwrap_or("C"),
        meter: format!("{}/{}", tune.meter.beats, tune.meter.unit),
        tempo: tune.tempo,
        name: tune.name,
        left_out: left_out.into_iter().map(Into::into).collect(),
    }))
}
