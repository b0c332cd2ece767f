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
        for ((index, eighths, goes_on), beam) in bar.iter().zip(beams(tune, part, bar)) {
            let head = format!("{}{beam}", head(*eighths));
            xml += &note(part, (instrument, tune.sharps), *index, (*eighths, &head), (tied, *goes_on));
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
    (eighths, head): (u8, &str),
    (tied, goes_on): (bool, bool),
) -> String {
    let placed = &part.notes[index];
    let sounding = placed.fingering.map(|way| way.midi).or(placed.midi);
    let Some(midi) = sounding else {
        return format!("<note><rest/><duration>{eighths}</duration>{head}</note>\n");
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
    format!("<note>{pitch}<duration>{eighths}</duration>{ties}{head}{notations}</note>\n")
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

/// Whether a note of a part sounds.
fn sounds(part: &TunePart, index: usize) -> bool {
    part.notes.get(index).is_some_and(|placed| placed.fingering.is_some() || placed.midi.is_some())
}

/// The beam of each head of a bar: eighths of one beat that follow each other hang together, two in quarters, three in 6/8.
fn beams(tune: &Tune, part: &TunePart, bar: &[(usize, u8, bool)]) -> Vec<&'static str> {
    let beat = if tune.meter.unit == 8 { 3 } else { 2 };
    let mut at = 0_u8;
    let beats = bar.iter().map(|(index, eighths, _)| {
        let hangs = (*eighths == 1 && sounds(part, *index)).then_some(at / beat);
        at = at.saturating_add(*eighths);
        hangs
    });
    let beats: Vec<Option<u8>> = beats.collect();
    let same =
        |a: usize, b: Option<usize>| beats[a].is_some() && b.and_then(|b| beats.get(b)).is_some_and(|b| *b == beats[a]);
    let beam = |at: usize| match (same(at, at.checked_sub(1)), same(at, at.checked_add(1))) {
        (false, true) => "<beam number=\"1\">begin</beam>",
        (true, true) => "<beam number=\"1\">continue</beam>",
        (true, false) => "<beam number=\"1\">end</beam>",
        (false, false) => "",
    };
    (0..beats.len()).map(beam).collect()
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
