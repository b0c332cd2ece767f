//! A tune on one page for the whole class: fingerboards with the places it uses, then note by note who plays it where.

use std::collections::BTreeSet;

use bright_row_core::craft::instrument::{Instrument, InstrumentFacts};
use bright_row_core::craft::tune::Tune;
use bright_row_core::lessons::notes::{Fingering, TunePart};
use bright_row_core::tapes::colour::Colour;
use bright_row_core::tapes::finger::Finger;
use bright_row_core::tapes::layout::distance_mm;
use bright_row_core::tapes::settings::Temperament;

use crate::measure::fitting;
use crate::pdf::{Drawing, Paper};

/// An instrument's part with what is known of the instrument.
pub type Voice<'a> = (&'a InstrumentFacts, &'a TunePart);

const MARGIN: f64 = 14.0;
/// A fingerboard, from the nut to a little beyond first position.
const BOARD: (f64, f64) = (30.0, 54.0);
/// Where the first line of notes stands.
const FIRST_LINE: f64 = 100.0;

/// How large notes are written: few notes large enough for a stand that two share.
#[derive(Clone, Copy)]
struct Size {
    /// Notes in a line.
    across: usize,
    /// Width of a note, height of a row, and of the letters, in millimetres.
    cell: f64,
    row: f64,
    letters: f64,
}

/// From large to small; the last holds every tune on either paper.
const SIZES: [Size; 3] = [
    Size { across: 8, cell: 20.4, row: 8.2, letters: 5.6 },
    Size { across: 12, cell: 13.6, row: 6.8, letters: 4.6 },
    Size { across: 16, cell: 10.2, row: 4.7, letters: 3.6 },
];
/// Between lines, and below the last one.
const GAP: f64 = 3.6;
const FOOT: f64 = 19.0;

impl Size {
    /// How much of the page so many notes take.
    fn height(self, notes: usize) -> f64 {
        f64::from(u8::try_from(notes.div_ceil(self.across)).unwrap_or(u8::MAX)) * (self.row * 5.0 + GAP)
    }
}

/// The chart, upright, on one page; `colours` where each finger has its own.
#[must_use]
pub fn chart(tune: &Tune, voices: &[Voice<'_>], colours: Option<[Colour; 4]>, paper: Paper) -> Drawing {
    let (width, height) = paper.size_mm();
    let mut page = Drawing::new((width, height));
    page.text((MARGIN, 20.0), 7.0, "start", true, &fitting(&tune.name, width - 2.0 * MARGIN, 7.0));
    let each = (width - 2.0 * MARGIN) / 4.0;
    for (number, voice) in (0_u8..).zip(voices) {
        board(&mut page, (MARGIN + f64::from(number) * each + (each - BOARD.0) / 2.0, 34.0), voice, colours);
    }
    let fits = |size: &&Size| size.height(tune.notes.len()) <= height - FIRST_LINE - FOOT;
    let size = *SIZES.iter().find(fits).unwrap_or(&SIZES[2]);
    let mut y = FIRST_LINE;
    let notes: Vec<usize> = (0..tune.notes.len()).collect();
    for line in notes.chunks(size.across) {
        rows(&mut page, y, line, tune, voices, size);
        y += size.row * 5.0 + GAP;
    }
    page.text((MARGIN, height - 12.5), 2.9, "start", true, &moved(voices));
    page.text(
        (MARGIN, height - 8.0),
        2.9,
        "start",
        false,
        "A letter is an open string; letter and number are string and finger. v ^ another octave than the rest. – not in first position.",
    );
    page
}

/// What was moved, instrument by instrument; nothing where every note is where it was asked.
fn moved(voices: &[Voice<'_>]) -> String {
    let said =
        voices.iter().filter_map(|(facts, part)| Some(format!("{}: {}", facts.instrument.name(), part.moved()?)));
    let mut words: String = said.collect::<Vec<_>>().join("; ");
    if let Some(first) = words.get_mut(..1) {
        first.make_ascii_uppercase();
    }
    words
}

fn letter(facts: &InstrumentFacts, string: usize) -> &str {
    facts.strings.get(string).map_or("", |open| open.note.get(..1).unwrap_or_default())
}

/// `D2`, `D`, `–`; `v` or `^` where it is in another octave than the rest; nothing for a rest.
#[must_use]
pub fn word(facts: &InstrumentFacts, part: &TunePart, note: usize) -> String {
    let placed = &part.notes[note];
    let octave = match placed.folded {
        0 => "",
        down if down < 0 => "v",
        _ => "^",
    };
    match (placed.midi, placed.fingering) {
        (None, _) => String::new(),
        (Some(_), None) => "–".to_owned(),
        (Some(_), Some(Fingering { string, finger: None, .. })) => format!("{}{octave}", letter(facts, string)),
        (Some(_), Some(Fingering { string, finger: Some(finger), .. })) => {
            format!("{}{}{octave}", letter(facts, string), short(finger))
        }
    }
}

fn short(finger: Finger) -> String {
    match finger {
        Finger::Low1 | Finger::Low2 => format!("L{}", finger.number()),
        Finger::High3 => format!("H{}", finger.number()),
        Finger::Stretched2 | Finger::Stretched4 => format!("x{}", finger.number()),
        plain => plain.id().to_owned(),
    }
}

fn rows(page: &mut Drawing, top: f64, line: &[usize], tune: &Tune, voices: &[Voice<'_>], size: Size) {
    let (first, cell) = (MARGIN + 18.0, size.cell);
    let right = first + cell * f64::from(u8::try_from(line.len()).unwrap_or(u8::MAX));
    let at = |place: usize| first + cell * (f64::from(u8::try_from(place).unwrap_or(u8::MAX)) + 0.5);
    for (place, index) in line.iter().enumerate() {
        let name = tune.notes[*index].midi.map(|midi| tune.name_of(midi)).unwrap_or_default();
        let name: String = name.chars().filter(|c| !c.is_ascii_digit()).collect();
        page.text((at(place), top), size.letters, "middle", true, &name);
    }
    page.line((MARGIN, top + 1.6), (right, top + 1.6), 0.3);
    for (number, (facts, part)) in (1_u8..).zip(voices) {
        let y = top + f64::from(number) * size.row;
        page.text((MARGIN, y), size.letters.min(4.6), "start", false, name_of(facts.instrument));
        for (place, index) in line.iter().enumerate() {
            page.text((at(place), y), size.letters, "middle", false, &word(facts, part, *index));
        }
    }
}

const fn name_of(instrument: Instrument) -> &'static str {
    match instrument {
        Instrument::Violin => "Violin",
        Instrument::Viola => "Viola",
        Instrument::Cello => "Cello",
        Instrument::Bass => "Bass",
    }
}

fn board(page: &mut Drawing, (x, y): (f64, f64), (facts, part): &Voice<'_>, colours: Option<[Colour; 4]>) {
    page.text((x + BOARD.0 / 2.0, y - 5.0), 4.0, "middle", true, name_of(facts.instrument));
    page.line((x - 1.0, y), (x + BOARD.0 + 1.0, y), 1.0);
    let string = |place: usize| x + BOARD.0 * (f64::from(u8::try_from(place).unwrap_or(u8::MAX)) + 0.5) / 4.0;
    for place in 0..facts.strings.len() {
        page.line(
            (string(place), y),
            (string(place), y + BOARD.1),
            0.5 - 0.1 * f64::from(u8::try_from(place).unwrap_or(0)),
        );
        page.text((string(place), y - 1.4), 3.0, "middle", false, letter(facts, place));
    }
    let reach = Finger::of(facts.instrument).iter().filter_map(|finger| finger.semitones(facts.instrument)).max();
    let reach = distance_mm(1.0, reach.unwrap_or(7), Temperament::Equal);
    let down = |semitones: u8| y + (BOARD.1 - 4.0) * distance_mm(1.0, semitones, Temperament::Equal) / reach;
    let used: BTreeSet<(usize, Option<Finger>)> =
        part.notes.iter().filter_map(|placed| placed.fingering).map(|way| (way.string, way.finger)).collect();
    for (place, finger) in used {
        let Some(finger) = finger else {
            page.spot((string(place), y + 2.0), 1.5, "none");
            continue;
        };
        let at = (string(place), down(finger.semitones(facts.instrument).unwrap_or_default()));
        let colour = colours.map_or(Colour::Black, |colours| colours[usize::from(finger.number() - 1)]);
        page.spot(at, 2.6, colour.hex());
        page.coloured((at.0, at.1 + 1.1), 3.2, colour.ink(), &short(finger));
    }
}
