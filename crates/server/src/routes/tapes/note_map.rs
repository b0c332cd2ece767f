//! Who plays what where: a note or a tune on all four instruments, who is ready for it, and the same on paper.

use axum::Json;
use axum::extract::State;
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::craft::pitch::{self, note_name};
use bright_row_core::craft::tune::TuneNote;
use bright_row_core::craft::tune::{self, Meter, Tune, TuneFault, sharps_of};
use bright_row_core::lessons::notes::part;
use bright_row_core::text::Text;
use bright_row_documents::musicxml::score;
use bright_row_documents::note_chart::chart;
use serde::Deserialize;
use utoipa::IntoParams;

use crate::error::answers::ForMembersAsking;
use crate::error::{ApiError, FieldError};
use crate::extract::Query;
use crate::extract::files::{Download, PaperView};
use crate::use_cases::snapshot::ClassSnapshot;

use super::note_views::{NoteMap, TuneNoteView, tune_child, voice};
use super::views::finger_colours;
use crate::auth::guard::Member;
use crate::state::App;

/// A tune that ships, or notes of one's own.
#[derive(Debug, Deserialize, IntoParams)]
#[serde(rename_all = "camelCase")]
#[into_params(parameter_in = Query)]
pub struct TuneQuery {
    /// The id of a tune that ships.
    #[param(example = "hot-cross-buns")]
    tune: Option<String>,
    /// Notes of one's own: `D4 E4 F#4:4 -`, a letter with its octave, `:` and eighths where it is no quarter.
    notes: Option<String>,
    /// What they are called.
    name: Option<String>,
    /// Their major key; D by default.
    key: Option<String>,
    /// Their meter; 4/4 by default.
    meter: Option<String>,
    /// Of a chart: A4 by default.
    #[serde(default)]
    #[param(inline)]
    paper: PaperView,
}

/// A note or a tune on all four instruments, and who is ready for it.
#[utoipa::path(get, path = "/api/classes/{class}/notes", tag = "tapes",
    params(("class" = Uuid, Path, description = "The class"), TuneQuery),
    responses(
        (status = 200, body = NoteMap),
        ForMembersAsking,
    ))]
pub async fn note_map(
    State(app): State<App>,
    member: Member,
    Query(query): Query<TuneQuery>,
) -> Result<Json<NoteMap>, ApiError> {
    let tune = tune_of(&app, &query)?;
    let snapshot = ClassSnapshot::new(&app, &member.class);
    let mut learners = snapshot.learners().await?;
    learners.sort_by_cached_key(|learner| (learner.walking_key(), learner.child.id));
    let parts = Instrument::ALL.map(|on| (on, part(&app.content.instruments[&on], &tune.notes)));
    let children = learners.iter().map(|learner| {
        let (_, part) = &parts[index_of(learner.child.playing.now)];
        tune_child(learner, part)
    });
    let voices = parts.iter().map(|(on, part)| voice(snapshot.set_of(*on), &tune, part));
    Ok(Json(NoteMap {
        name: tune.name.clone(),
        notes: tune
            .notes
            .iter()
            .map(|note| TuneNoteView { note: note.midi.map(note_name), eighths: note.eighths })
            .collect(),
        children: children.collect(),
        voices: voices.collect(),
        tunes: app.content.tunes.iter().map(Into::into).collect(),
        colours: snapshot.set_of(Instrument::Violin).colours,
        finger_colours: finger_colours(snapshot.set_of(Instrument::Violin)),
    }))
}

/// The tune for four instruments as `MusicXML` 4.0.
#[utoipa::path(get, path = "/api/classes/{class}/notes.musicxml", tag = "tapes",
    params(("class" = Uuid, Path, description = "The class"), TuneQuery),
    responses(
        (status = 200, body = Vec<u8>, content_type = "application/vnd.recordare.musicxml+xml"),
        ForMembersAsking,
    ))]
pub async fn notes_musicxml(
    State(app): State<App>,
    _member: Member,
    Query(query): Query<TuneQuery>,
) -> Result<Download, ApiError> {
    let tune = tune_of(&app, &query)?;
    let parts = Instrument::ALL.map(|on| (on, part(&app.content.instruments[&on], &tune.notes)));
    Ok(Download {
        name: format!("{}.musicxml", tune.name),
        kind: "application/vnd.recordare.musicxml+xml",
        bytes: score(&tune, &parts).into_bytes(),
    })
}

/// The tune on one page: fingerboards, and note by note who plays it where.
#[utoipa::path(get, path = "/api/classes/{class}/notes.pdf", tag = "tapes",
    params(("class" = Uuid, Path, description = "The class"), TuneQuery),
    responses(
        (status = 200, body = Vec<u8>, content_type = "application/pdf"),
        ForMembersAsking,
    ))]
pub async fn notes_chart(
    State(app): State<App>,
    member: Member,
    Query(query): Query<TuneQuery>,
) -> Result<Download, ApiError> {
    let tune = tune_of(&app, &query)?;
    let parts =
        Instrument::ALL.map(|on| (&app.content.instruments[&on], part(&app.content.instruments[&on], &tune.notes)));
    let voices: Vec<_> = parts.iter().map(|(facts, part)| (*facts, part)).collect();
    let set = &app.marker_sets(&member.class)[&Instrument::Violin];
    let colours = set.colours.then(|| set.finger_colours());
    Download::pdf(&tune.name, &[chart(&tune, &voices, colours, query.paper.into())])
}

fn index_of(instrument: Instrument) -> usize {
    Instrument::ALL.iter().position(|on| *on == instrument).unwrap_or_default()
}

fn tune_of(app: &App, query: &TuneQuery) -> Result<Tune, ApiError> {
    let wrong = |field: &str, words: String| ApiError::Invalid(vec![FieldError::new(field, words)]);
    let Some(text) = &query.notes else {
        let id = query.tune.as_deref();
        let found = match id {
            Some(id) => app.content.tunes.iter().find(|tune| tune.id == id),
            None => app.content.tunes.first(),
        };
        return found.cloned().ok_or_else(|| wrong("tune", "There is no such tune. Choose another.".to_owned()));
    };
    let fault = |field: &'static str| move |fault: TuneFault| wrong(field, fault.to_string());
    let meter = Meter::parse(query.meter.as_deref().unwrap_or("4/4")).map_err(fault("meter"))?;
    let sharps = sharps_of(query.key.as_deref().unwrap_or("D")).map_err(fault("key"))?;
    let tune_notes = tune::notes(text, meter.eighths()).map_err(fault("notes"))?;
    let name = Text::<{ tune::MAX_TUNE_NAME_LENGTH }>::line(query.name.as_deref().unwrap_or_default());
    let name = name.map_err(|fault| wrong("name", fault.to_string()))?.into_string();
    let name = match tune_notes.as_slice() {
        _ if !name.is_empty() => name,
        // One note is called what it is.
        [TuneNote { midi: Some(midi), .. }] => pitch::name(*midi),
        _ => "Our tune".to_owned(),
    };
    Ok(Tune { id: String::new(), name, sharps, bar_eighths: meter.eighths(), meter, notes: tune_notes })
}
