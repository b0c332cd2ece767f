//! A tune on all four instruments, as the note map shows it.

use bright_row_core::craft::instrument::{Instrument, InstrumentFacts};
use bright_row_core::craft::pitch::{note_name, spoken};
use bright_row_core::craft::tune::Tune;
use bright_row_core::lessons::notes::waits_for;
use bright_row_core::lessons::notes::{self, Fingering, TunePart, fingers_of, open_instead};
use bright_row_core::tapes::finger::{Finger, Spot};
use bright_row_core::tapes::layout::{distance_mm, open_hz};
use bright_row_core::tapes::marker_set::{MarkerKind, MarkerSet};
use bright_row_core::tapes::settings::Temperament;
use serde::Serialize;
use serde_with::skip_serializing_none;
use utoipa::ToSchema;

use crate::routes::tapes::bench::BenchChild;
use crate::routes::tapes::views::ColourView;
use crate::use_cases::snapshot::Learner;

/// A tune on all four instruments, and the class before it.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct NoteMap {
    pub(super) name: String,
    /// Note by note, as it was asked for.
    pub(super) notes: Vec<TuneNoteView>,
    pub(super) voices: Vec<Voice>,
    /// The class, in walking order.
    pub(super) children: Vec<TuneChild>,
    /// Tunes that ship.
    pub(super) tunes: Vec<TuneName>,
    /// Whether each finger has its own colour.
    pub(super) colours: bool,
    /// The colours of the markers of fingers 1 to 4.
    pub(super) finger_colours: Vec<ColourView>,
}

/// A tune that ships.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct TuneName {
    pub(super) id: String,
    pub(super) name: String,
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
    pub(super) note: Option<String>,
    pub(super) eighths: u8,
}

/// The tune on one instrument.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct Voice {
    pub(super) instrument: Instrument,
    /// By how many octaves the whole tune is moved.
    pub(super) octaves: i8,
    /// Notes that no octave has in first position.
    pub(super) missing: usize,
    /// Notes that are moved by octaves of their own.
    pub(super) folded: usize,
    /// What was moved and where, in words; absent where every note is where it was asked.
    pub(super) moved: Option<String>,
    pub(super) notes: Vec<VoiceNote>,
    /// The strings of its fingerboard, low to high.
    pub(super) strings: Vec<String>,
    /// The fingers of first position, up the string.
    pub(super) fingers: Vec<BoardFinger>,
    /// Fingers that the tune needs and the class's markers do not have.
    pub(super) unmarked: Vec<String>,
    /// For who is not ready: an open string to each note, in order; empty for a rest.
    pub(super) instead: Vec<String>,
    /// Every position of a single note that is asked for, in first position.
    pub(super) everywhere: Vec<BoardPosition>,
}

/// A note on one instrument.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct VoiceNote {
    /// How it is played; absent for a rest, and for a note that is not in first position.
    pub(super) position: Option<BoardPosition>,
    /// `F sharp`; absent for a rest.
    pub(super) said: Option<String>,
    /// Octaves by which this note alone is moved.
    pub(super) folded: i8,
}

/// A position on a fingerboard.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct BoardPosition {
    /// From the lowest, 0.
    pub(super) string: usize,
    /// Its letter.
    pub(super) letter: String,
    /// Absent on the open string.
    pub(super) finger: Option<String>,
    /// What sounds, `F#3`.
    pub(super) note: String,
    pub(super) hz: f64,
    /// Whether the class's markers show it; open strings need none.
    pub(super) marked: bool,
}

/// A finger's position along the string.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct BoardFinger {
    pub(super) finger: String,
    pub(super) number: u8,
    /// Its distance from the nut as a share of the string.
    pub(super) share: f64,
    pub(super) marked: bool,
}

/// A child before a tune.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct TuneChild {
    #[serde(flatten)]
    pub(super) child: BenchChild,
    pub(super) ready: bool,
    /// What is waited for, in words; empty when ready.
    pub(super) waits: Vec<String>,
}

pub(super) fn voice(set: &MarkerSet, tune: &Tune, part: &TunePart) -> Voice {
    let facts = &set.facts;
    let marked = |finger: Finger| set.spots.contains(&Spot::Finger(finger));
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
        moved: part.moved(),
        notes: part
            .notes
            .iter()
            .map(|placed| VoiceNote {
                position: placed.fingering.map(|fingering| board_position(set, fingering)),
                said: placed.midi.map(|midi| spoken(&tune.name_of(midi))),
                folded: placed.folded,
            })
            .collect(),
        strings: facts.strings.iter().map(|open| open.note[..1].to_owned()).collect(),
        fingers: board_fingers(facts.instrument, marked),
        unmarked: unmarked.map(|finger| finger.spoken().to_owned()).collect(),
        instead: part.notes.iter().map(|placed| instead(placed.midi)).collect(),
        everywhere: everywhere.into_iter().map(|fingering| board_position(set, fingering)).collect(),
    }
}

/// The fingers of first position, up the string.
fn board_fingers(instrument: Instrument, marked: impl Fn(Finger) -> bool) -> Vec<BoardFinger> {
    let share = |finger: Finger| distance_mm(1.0, finger.semitones(instrument).unwrap_or_default(), Temperament::Equal);
    let mut fingers = Finger::of(instrument).to_vec();
    fingers.sort_by(|a, b| share(*a).total_cmp(&share(*b)));
    let board = |finger: Finger| BoardFinger {
        finger: finger.id().to_owned(),
        number: finger.number(),
        share: share(finger),
        marked: marked(finger),
    };
    fingers.into_iter().map(board).collect()
}

/// Every position of a note's name in first position.
pub(super) fn everywhere(facts: &InstrumentFacts, midi: u8) -> Vec<Fingering> {
    (0..=9).flat_map(|octave| notes::fingerings(facts, midi % 12 + 12 * octave)).collect()
}

/// What sounds at a place, in hertz.
pub(super) fn hz_at(set: &MarkerSet, way: Fingering) -> f64 {
    let semitones = way.finger.and_then(|finger| finger.semitones(set.facts.instrument)).unwrap_or_default();
    open_hz(&set.facts, way.string, &set.settings) * set.settings.temperament.ratio(semitones)
}

pub(super) fn board_position(set: &MarkerSet, fingering: Fingering) -> BoardPosition {
    let facts = &set.facts;
    BoardPosition {
        string: fingering.string,
        letter: facts.strings[fingering.string].note[..1].to_owned(),
        finger: fingering.finger.map(|finger| finger.id().to_owned()),
        note: note_name(fingering.midi),
        hz: hz_at(set, fingering),
        marked: fingering.finger.is_none_or(|finger| set.spots.contains(&Spot::Finger(finger))),
    }
}

/// A child before a tune, with what it waits for.
pub(super) fn tune_child(learner: &Learner, part: &TunePart) -> TuneChild {
    let needs = waits_for(&learner.ladder, part).iter();
    let waits: Vec<String> = needs.map(|need| learner.checklist.need_name(need)).collect();
    TuneChild { child: learner.into(), ready: waits.is_empty(), waits }
}
