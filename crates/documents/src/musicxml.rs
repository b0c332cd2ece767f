//! A tune for four instruments as `MusicXML` 4.0: right clefs, fingerings, the bass written an octave above what sounds.

use bright_row_core::craft::instrument::Instrument;
use bright_row_core::craft::pitch::{Spelled, spelled};
use bright_row_core::craft::tune::{Tune, bars};
use bright_row_core::lessons::notes::{Clef, Fingering, TunePart, written};

use crate::pdf::escaped;

/// Eighths in the format's unit: a quarter has two.
const DIVISIONS: u8 = 2;

/// The tune as four parts (or as many as are given), in order.
#[must_use]
pub fn score(tune: &Tune, parts: &[(Instrument, TunePart)]) -> String {
    let mut xml = String::from("<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<score-partwise version=\"4.0\">\n");
    xml += &format!("<work><work-title>{}</work-title></work>\n", escaped(&tune.name));
    xml += "<identification><encoding><software>Bright Row</software></encoding></identification>\n<part-list>\n";
    for (number, (instrument, _)) in (1..).zip(parts) {
        xml += &format!(
            "<score-part id=\"P{number}\"><part-name>{}</part-name><score-instrument id=\"P{number}-I1\">\
             <instrument-name>{}</instrument-name></score-instrument><midi-instrument id=\"P{number}-I1\">\
             <midi-channel>{number}</midi-channel><midi-program>{}</midi-program></midi-instrument></score-part>\n",
            spoken(*instrument),
            spoken(*instrument),
            program(*instrument)
        );
    }
    xml += "</part-list>\n";
    for (number, (instrument, part)) in (1..).zip(parts) {
        xml += &format!("<part id=\"P{number}\">\n{}</part>\n", measures(tune, *instrument, part));
    }
    xml + "</score-partwise>\n"
}

fn spoken(instrument: Instrument) -> &'static str {
    match instrument {
        Instrument::Violin => "Violin",
        Instrument::Viola => "Viola",
        Instrument::Cello => "Cello",
        Instrument::Bass => "Double bass",
    }
}

/// The sound that a program plays it with, from 1.
const fn program(instrument: Instrument) -> u8 {
    match instrument {
        Instrument::Violin => 41,
        Instrument::Viola => 42,
        Instrument::Cello => 43,
        Instrument::Bass => 44,
    }
}

fn measures(tune: &Tune, instrument: Instrument, part: &TunePart) -> String {
    let mut xml = String::new();
    let bars = bars(tune);
    let last = bars.len();
    let mut tied = false;
    for (number, bar) in (1..).zip(&bars) {
        xml += &format!("<measure number=\"{number}\">\n");
        if number == 1 {
            xml += &attributes(tune, instrument);
            // A program shows it above the staff; whoever reads only the file finds it too.
            xml.extend(part.moved().map(|moved| {
                format!(
                    "<direction placement=\"above\"><direction-type><words>{moved}</words></direction-type></direction>\n"
                )
            }));
        }
        for (index, eighths, goes_on) in bar {
            xml += &note(part, (instrument, tune.sharps), *index, *eighths, tied, *goes_on);
            tied = *goes_on;
        }
        if number == last {
            xml += "<barline location=\"right\"><bar-style>light-heavy</bar-style></barline>\n";
        }
        xml += "</measure>\n";
    }
    xml
}

fn attributes(tune: &Tune, instrument: Instrument) -> String {
    let (clef, octaves) = written(instrument);
    let (sign, line) = match clef {
        Clef::Treble => ("G", 2),
        Clef::Alto => ("C", 3),
        Clef::Bass => ("F", 4),
    };
    let transpose = if octaves == 0 {
        String::new()
    } else {
        format!(
            "<transpose><diatonic>0</diatonic><chromatic>0</chromatic><octave-change>-{octaves}</octave-change></transpose>"
        )
    };
    format!(
        "<attributes><divisions>{DIVISIONS}</divisions><key><fifths>{}</fifths><mode>major</mode></key>\
         <time><beats>{}</beats><beat-type>{}</beat-type></time><clef><sign>{sign}</sign><line>{line}</line></clef>\
         {transpose}</attributes>\n",
        tune.sharps, tune.meter.beats, tune.meter.unit
    )
}

fn note(
    part: &TunePart,
    (instrument, sharps): (Instrument, i8),
    index: usize,
    eighths: u8,
    tied: bool,
    goes_on: bool,
) -> String {
    let placed = &part.notes[index];
    let sounding = placed.fingering.map(|way| way.midi).or(placed.midi);
    let Some(midi) = sounding else {
        return format!("<note><rest/><duration>{eighths}</duration>{}</note>\n", head(eighths));
    };
    let (_, octaves) = written(instrument);
    let pitch = pitch(midi.saturating_add(octaves * 12), sharps);
    let ties = format!(
        "{}{}",
        if tied { "<tie type=\"stop\"/>" } else { "" },
        if goes_on { "<tie type=\"start\"/>" } else { "" }
    );
    let mut notations = format!(
        "{}{}",
        if tied { "<tied type=\"stop\"/>" } else { "" },
        if goes_on { "<tied type=\"start\"/>" } else { "" }
    );
    if !tied {
        notations += &technical(placed.fingering);
    }
    let notations = if notations.is_empty() { String::new() } else { format!("<notations>{notations}</notations>") };
    format!("<note>{pitch}<duration>{eighths}</duration>{ties}{}{notations}</note>\n", head(eighths))
}

/// How a note is fingered; one that is not in first position has no fingering of ours.
fn technical(way: Option<Fingering>) -> String {
    match way {
        None => String::new(),
        Some(Fingering { finger: None, .. }) => "<technical><open-string/></technical>".to_owned(),
        Some(Fingering { finger: Some(finger), .. }) => {
            format!("<technical><fingering>{}</fingering></technical>", finger.number())
        }
    }
}

/// What a head of so many eighths looks like.
fn head(eighths: u8) -> &'static str {
    match eighths {
        1 => "<type>eighth</type>",
        2 => "<type>quarter</type>",
        3 => "<type>quarter</type><dot/>",
        4 => "<type>half</type>",
        6 => "<type>half</type><dot/>",
        _ => "<type>whole</type>",
    }
}

/// A pitch spelled as the key of so many sharps has it.
fn pitch(midi: u8, sharps: i8) -> String {
    let Spelled { step, alter, octave } = spelled(midi, sharps);
    let alter = if alter == 0 { String::new() } else { format!("<alter>{alter}</alter>") };
    format!("<pitch><step>{step}</step>{alter}<octave>{octave}</octave></pitch>")
}
