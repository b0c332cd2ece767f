//! Who plays what where: a note or a tune on all four instruments, who is ready for it, and the same on paper.

use axum::Json;
use axum::extract::State;
use bright_row_core::craft::instrument::{Instrument, InstrumentFacts};
use bright_row_core::craft::pitch::{self, note_name, spoken};
use bright_row_core::craft::tune::TuneNote;
use bright_row_core::craft::tune::{self, Meter, Tune, TuneFault, sharps_of};
use bright_row_core::lessons::notes::waits_for;
use bright_row_core::lessons::notes::{self, Fingering, TunePart, fingers_of, open_instead, part};
use bright_row_core::tapes::finger::{Finger, Spot};
use bright_row_core::tapes::layout::{distance_mm, open_hz};
use bright_row_core::tapes::marker_set::{MarkerKind, MarkerSet};
use bright_row_core::tapes::settings::Temperament;
use bright_row_core::text::Text;
use bright_row_documents::musicxml::score;
use bright_row_documents::note_chart::chart;
use serde::{Deserialize, Serialize};
use serde_with::skip_serializing_none;
use utoipa::{IntoParams, ToSchema};

use crate::error::answers::ForMembersAsking;
use crate::error::{ApiError, FieldError};
use crate::extract::Query;
use crate::extract::files::{Download, PaperView};
use crate::routes::tapes::bench::BenchChild;
use crate::use_cases::snapshot::{ClassSnapshot, Learner};

use crate::auth::guard::Member;
use crate::routes::names::need_name;
use crate::state::App;

/// A tune that ships, or notes of one's own.
#[derive(Debug, Deserialize, IntoParams)]
#[serde(rename_all = "camelCase")]
#[into_params(parameter_in = Query)]
pub struct TuneQuery {
    /// The id of a tune that ships.
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

/// A tune on all four instruments, and the class before it.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct NoteMap {
    name: String,
    /// Note by note, as it was asked for.
    notes: Vec<TuneNoteView>,
    voices: Vec<Voice>,
    /// The class, in walking order.
    children: Vec<TuneChild>,
    /// Tunes that ship.
    tunes: Vec<TuneName>,
    /// Whether each finger has its own colour.
    colours: bool,
}

/// A tune that ships.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct TuneName {
    id: String,
    name: String,
}

impl From<&Tune> for TuneName {
    fn from(tune: &Tune) -> Self {
        Self { id: tune.id.clone(), name: tune.name.clone() }
    }
}

/// A note of the tune.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct TuneNoteView {
    /// `F#4`; absent for a rest.
    note: Option<String>,
    eighths: u8,
}

/// The tune on one instrument.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct Voice {
    instrument: Instrument,
    /// By how many octaves the whole tune is moved.
    octaves: i8,
    /// Notes that no octave has in first position.
    missing: usize,
    /// Notes that are moved by octaves of their own.
    folded: usize,
    notes: Vec<VoiceNote>,
    /// The strings of its fingerboard, low to high.
    strings: Vec<String>,
    /// The fingers of first position, up the string.
    fingers: Vec<BoardFinger>,
    /// Fingers that the tune needs and the class's markers do not have.
    unmarked: Vec<String>,
    /// For who is not ready: an open string to each note, in order; empty for a rest.
    instead: Vec<String>,
    /// Every position of a single note that is asked for, in first position.
    everywhere: Vec<BoardPosition>,
}

/// A note on one instrument.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct VoiceNote {
    /// How it is played; absent for a rest, and for a note that is not in first position.
    position: Option<BoardPosition>,
    /// `F sharp`; absent for a rest.
    said: Option<String>,
    /// Octaves by which this note alone is moved.
    folded: i8,
}

/// A position on a fingerboard.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct BoardPosition {
    /// From the lowest, 0.
    string: usize,
    /// Its letter.
    letter: String,
    /// Absent on the open string.
    finger: Option<String>,
    /// What sounds, `F#3`.
    note: String,
    hz: f64,
    /// Whether the class's markers show it; open strings need none.
    marked: bool,
}

/// A finger's position along the string.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct BoardFinger {
    finger: String,
    number: u8,
    /// Its distance from the nut as a share of the string.
    share: f64,
    marked: bool,
}

/// A child before a tune.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct TuneChild {
    #[serde(flatten)]
    child: BenchChild,
    ready: bool,
    /// What is waited for, in words; empty when ready.
    waits: Vec<String>,
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
    learners.sort_by_key(|learner| (learner.walking_key(), learner.child.id));
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
    let colours = app.marker_sets(&member.class)[&Instrument::Violin].colours;
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

fn voice(set: &MarkerSet, tune: &Tune, part: &TunePart) -> Voice {
    let facts = &set.facts;
    let marked = |finger: Finger| set.spots.contains(&Spot::Finger(finger));
    let share = |finger: Finger| {
        let semitones = finger.semitones(facts.instrument).unwrap_or_default();
        distance_mm(1.0, semitones, Temperament::Equal)
    };
    let mut fingers = Finger::of(facts.instrument).to_vec();
    fingers.sort_by(|a, b| share(*a).total_cmp(&share(*b)));
    let board = |finger: Finger| BoardFinger {
        finger: finger.id().to_owned(),
        number: finger.number(),
        share: share(finger),
        marked: marked(finger),
    };
    let single = match tune.notes.as_slice() {
        [note] => note.midi,
        _ => None,
    };
    let everywhere = single.map(|midi| everywhere(facts, midi)).unwrap_or_default();
    let unmarked = fingers_of(part).into_iter().filter(|finger| set.kind != MarkerKind::None && !marked(*finger));
    let instead = |midi: Option<u8>| {
        let open = midi.and_then(|midi| open_instead(facts, midi));
        open.map(|open| open.note[..1].to_owned()).unwrap_or_default()
    };
    Voice {
        instrument: facts.instrument,
        octaves: part.octaves,
        missing: part.missing,
        folded: part.folded,
        notes: part
            .notes
            .iter()
            .map(|placed| VoiceNote {
                position: placed.fingering.map(|fingering| board_position(set, fingering)),
                said: placed.midi.map(|midi| spoken(&note_name(midi))),
                folded: placed.folded,
            })
            .collect(),
        strings: facts.strings.iter().map(|open| open.note[..1].to_owned()).collect(),
        fingers: fingers.into_iter().map(board).collect(),
        unmarked: unmarked.map(|finger| finger.spoken().to_owned()).collect(),
        instead: part.notes.iter().map(|placed| instead(placed.midi)).collect(),
        everywhere: everywhere.into_iter().map(|fingering| board_position(set, fingering)).collect(),
    }
}

/// Every position of a note's name in first position.
fn everywhere(facts: &InstrumentFacts, midi: u8) -> Vec<Fingering> {
    (0..=9).flat_map(|octave| notes::fingerings(facts, midi % 12 + 12 * octave)).collect()
}

fn board_position(set: &MarkerSet, fingering: Fingering) -> BoardPosition {
    let facts = &set.facts;
    let semitones = fingering.finger.and_then(|finger| finger.semitones(facts.instrument)).unwrap_or_default();
    BoardPosition {
        string: fingering.string,
        letter: facts.strings[fingering.string].note[..1].to_owned(),
        finger: fingering.finger.map(|finger| finger.id().to_owned()),
        note: note_name(fingering.midi),
        hz: open_hz(facts, fingering.string, &set.settings) * set.settings.temperament.ratio(semitones),
        marked: fingering.finger.is_none_or(|finger| set.spots.contains(&Spot::Finger(finger))),
    }
}

/// A child before a tune, with what it waits for.
fn tune_child(learner: &Learner, part: &TunePart) -> TuneChild {
    let needs = waits_for(&learner.ladder, part).iter();
    let waits: Vec<String> = needs.map(|need| need_name(&learner.checklist, need)).collect();
    TuneChild { child: learner.into(), ready: waits.is_empty(), waits }
}
