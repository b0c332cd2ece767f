//! Who plays what where: a note or a tune on all four instruments, and who is ready for it.

use axum::Json;
use axum::extract::State;
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::craft::pitch;
use bright_row_core::craft::tune::{self, Key, Meter, Tune, TuneFault, TuneNote};
use bright_row_core::lessons::notes::part;
use bright_row_core::text::Text;
use serde::Deserialize;
use utoipa::IntoParams;

use crate::error::answers::ForMembersAsking;
use crate::error::{ApiError, FieldError};
use crate::extract::Query;
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
    /// Their key, `D` or `Bm`; D by default.
    key: Option<String>,
    /// Their meter; 4/4 by default.
    meter: Option<String>,
    /// Beats a minute, 30 to 240.
    tempo: Option<u16>,
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
            .map(|note| TuneNoteView { note: note.midi.map(|midi| tune.name_of(midi)), eighths: note.eighths })
            .collect(),
        children: children.collect(),
        voices: voices.collect(),
        tunes: app.content.tunes.iter().map(Into::into).collect(),
        colours: snapshot.set_of(Instrument::Violin).colours,
        finger_colours: finger_colours(snapshot.set_of(Instrument::Violin)),
    }))
}

fn index_of(instrument: Instrument) -> usize {
    Instrument::ALL.iter().position(|on| *on == instrument).unwrap_or_default()
}

pub(super) fn tune_of(app: &App, query: &TuneQuery) -> Result<Tune, ApiError> {
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
    let key = Key::parse(query.key.as_deref().unwrap_or("D")).map_err(fault("key"))?;
    let tempo = query.tempo.map(tune::tempo).transpose().map_err(fault("tempo"))?;
    let tune::Line { notes, pickup_eighths } = tune::line(text, meter.eighths()).map_err(fault("notes"))?;
    let name = Text::<{ tune::MAX_TUNE_NAME_LENGTH }>::line(query.name.as_deref().unwrap_or_default());
    let name = name.map_err(|fault| wrong("name", fault.to_string()))?.into_string();
    let name = match notes.as_slice() {
        _ if !name.is_empty() => name,
        // One note is called what it is.
        [TuneNote { midi: Some(midi), .. }] => pitch::name(*midi),
        _ => "Our tune".to_owned(),
    };
    Ok(Tune { id: String::new(), name, key, meter, tempo, pickup_eighths, notes })
}
