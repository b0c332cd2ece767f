//! A tune for notation programs, players, ears and stands.

use axum::extract::State;
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::craft::tune::Tune;
use bright_row_core::lessons::notes::part;
use bright_row_documents::note_chart::chart;
use bright_row_documents::tune::{Part, midi, musicxml, sound};
use serde::Deserialize;
use utoipa::IntoParams;

use super::note_map::{TuneQuery, tune_of};
use super::note_views::hz_at;
use crate::auth::guard::Member;
use crate::error::answers::ForMembersAsking;
use crate::error::{ApiError, FieldError};
use crate::extract::Query;
use crate::extract::files::{Download, PaperQuery};
use crate::state::App;

/// Whose part.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct PartQuery {
    /// One instrument's part alone; absent for all four.
    part: Option<Instrument>,
}

fn parts_of(app: &App, tune: &Tune, wanted: Option<Instrument>) -> Vec<Part> {
    let wanted = Instrument::ALL.into_iter().filter(|on| wanted.is_none_or(|wanted| wanted == *on));
    wanted.map(|on| (on, part(&app.content.instruments[&on], &tune.notes))).collect()
}

/// `Frère Jacques`, and whose part it is where it is one alone.
fn name_of(tune: &Tune, wanted: Option<Instrument>) -> String {
    wanted.map_or_else(|| tune.name.clone(), |on| format!("{}, {}", tune.name, on.name()))
}

/// The tune for four instruments, or one, as `MusicXML` 4.0.
#[utoipa::path(get, path = "/api/classes/{class}/notes.musicxml", tag = "tapes",
    params(("class" = Uuid, Path, description = "The class"), TuneQuery, PartQuery),
    responses(
        (status = 200, body = Vec<u8>, content_type = "application/vnd.recordare.musicxml+xml"),
        ForMembersAsking,
    ))]
pub async fn notes_musicxml(
    State(app): State<App>,
    _member: Member,
    Query(query): Query<TuneQuery>,
    Query(PartQuery { part }): Query<PartQuery>,
) -> Result<Download, ApiError> {
    let tune = tune_of(&app, &query)?;
    Ok(Download {
        name: format!("{}.musicxml", name_of(&tune, part)),
        kind: "application/vnd.recordare.musicxml+xml",
        bytes: musicxml::score(&tune, &parts_of(&app, &tune, part)).into_bytes(),
    })
}

/// The same, packed as notation programs exchange it.
#[utoipa::path(get, path = "/api/classes/{class}/notes.mxl", tag = "tapes",
    params(("class" = Uuid, Path, description = "The class"), TuneQuery, PartQuery),
    responses(
        (status = 200, body = Vec<u8>, content_type = "application/vnd.recordare.musicxml"),
        ForMembersAsking,
    ))]
pub async fn notes_mxl(
    State(app): State<App>,
    _member: Member,
    Query(query): Query<TuneQuery>,
    Query(PartQuery { part }): Query<PartQuery>,
) -> Result<Download, ApiError> {
    let tune = tune_of(&app, &query)?;
    Ok(Download {
        name: format!("{}.mxl", name_of(&tune, part)),
        kind: "application/vnd.recordare.musicxml",
        bytes: musicxml::packed(&musicxml::score(&tune, &parts_of(&app, &tune, part))),
    })
}

/// The tune for players, as a standard MIDI file with a track for each part.
#[utoipa::path(get, path = "/api/classes/{class}/notes.mid", tag = "tapes",
    params(("class" = Uuid, Path, description = "The class"), TuneQuery, PartQuery),
    responses(
        (status = 200, body = Vec<u8>, content_type = "audio/midi"),
        ForMembersAsking,
    ))]
pub async fn notes_midi(
    State(app): State<App>,
    _member: Member,
    Query(query): Query<TuneQuery>,
    Query(PartQuery { part }): Query<PartQuery>,
) -> Result<Download, ApiError> {
    let tune = tune_of(&app, &query)?;
    let bytes = midi::file(&tune, &parts_of(&app, &tune, part));
    Ok(Download { name: format!("{}.mid", name_of(&tune, part)), kind: "audio/midi", bytes })
}

/// One part to listen to, the violin's by default: bowed, at the class's pitch and temperament.
#[utoipa::path(get, path = "/api/classes/{class}/notes.wav", tag = "tapes",
    params(("class" = Uuid, Path, description = "The class"), TuneQuery, PartQuery),
    responses(
        (status = 200, body = Vec<u8>, content_type = "audio/wav"),
        ForMembersAsking,
    ))]
pub async fn notes_wav(
    State(app): State<App>,
    member: Member,
    Query(query): Query<TuneQuery>,
    Query(PartQuery { part: wanted }): Query<PartQuery>,
) -> Result<Download, ApiError> {
    let tune = tune_of(&app, &query)?;
    let on = wanted.unwrap_or(Instrument::Violin);
    let voice = (on, part(&app.content.instruments[&on], &tune.notes));
    let set = app.marker_sets(&member.class)[&on].clone();
    let name = format!("{}.wav", name_of(&tune, Some(on)));
    let played = app.readers.read(move || sound::wav(&tune, &voice, |way| hz_at(&set, way))).await?;
    let bytes = played.map_err(|long| ApiError::Invalid(vec![FieldError::new("tempo", format!("{long}."))]))?;
    Ok(Download { name, kind: "audio/wav", bytes })
}

/// The tune on one page: fingerboards, and note by note who plays it where.
#[utoipa::path(get, path = "/api/classes/{class}/notes.pdf", tag = "tapes",
    params(("class" = Uuid, Path, description = "The class"), TuneQuery, PaperQuery),
    responses(
        (status = 200, body = Vec<u8>, content_type = "application/pdf"),
        ForMembersAsking,
    ))]
pub async fn notes_chart(
    State(app): State<App>,
    member: Member,
    Query(query): Query<TuneQuery>,
    Query(PaperQuery { paper }): Query<PaperQuery>,
) -> Result<Download, ApiError> {
    let tune = tune_of(&app, &query)?;
    let parts = parts_of(&app, &tune, None);
    let voices: Vec<_> = parts.iter().map(|(on, part)| (&app.content.instruments[on], part)).collect();
    let set = &app.marker_sets(&member.class)[&Instrument::Violin];
    let colours = set.colours.then(|| set.finger_colours());
    Download::pdf(&tune.name, &[chart(&tune, &voices, colours, paper.into())])
}
