//! A tune for four instruments as `MusicXML` 4.0: right clefs, fingerings, the bass written an octave above what sounds.

use bright_row_core::craft::instrument::Instrument;
use std::io::{Cursor, Write};

use bright_row_core::craft::pitch::{Spelled, spelled};
use bright_row_core::craft::tune::{Tune, bars};
use bright_row_core::lessons::notes::{Clef, Fingering, TunePart, written};

use zip::write::SimpleFileOptions;

use super::{Part, program, spoken};
use crate::pdf::escaped;

/// Eighths in the format's unit: a quarter has two.
const DIVISIONS: u8 = 2;

/// The score packed (`.mxl`), as notation programs exchange it.
#[must_use]
pub fn packed(score: &str) -> Vec<u8> {
    const CONTAINER: &str = "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<container><rootfiles>\
        <rootfile full-path=\"score.musicxml\" media-type=\"application/vnd.recordare.musicxml+xml\"/></rootfiles></container>\n";
    let mut zip = zip::ZipWriter::new(Cursor::new(Vec::new()));
    for (name, text) in [("META-INF/container.xml", CONTAINER), ("score.musicxml", score)] {
        zip.start_file(name, SimpleFileOptions::default()).expect("a name of ours");
        zip.write_all(text.as_bytes()).expect("a vector takes everything");
    }
    zip.finish().expect("a vector takes everything").into_inner()
}

/// The tune as four parts (or as many as are given), in order.
#[must_use]
pub fn score(tune: &Tune, parts: &[Part]) -> String {
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
            // Counted from 1 here.
            program(*instrument) + 1
        );
    }
    xml += "</part-list>\n";
    for (number, (instrument, part)) in (1..).zip(parts) {
        xml += &format!("<part id=\"P{number}\">\n{}</part>\n", measures(tune, *instrument, part));
    }
    xml + "</score-partwise>\n"
}

fn measures(tune: &Tune, instrument: Instrument, part: &TunePart) -> String {
    let mut xml = String::new();
    let bars = bars(tune);
    let last = bars.len();
    let mut tied = false;
    let upbeat = tune.pickup_eighths > 0;
    for (number, bar) in (usize::from(!upbeat)..).zip(&bars) {
        let implicit = if number == 0 { " implicit=\"yes\"" } else { "" };
        xml += &format!("<measure number=\"{number}\"{implicit}>\n");
        if number == usize::from(!upbeat) {
            xml += &attributes(tune, instrument);
            xml += &tempo(tune);
            // A program shows it above the staff; whoever reads only the file finds it too.
            xml.extend(part.moved().map(|moved| {
                format!(
                    "<direction placement=\"above\"><direction-type><words>{moved}</words></direction-type></direction>\n"
                )
            }));
        }
        for ((index, eighths, goes_on), beam) in bar.iter().zip(beams(tune, part, bar, number == 0)) {
            if !tied {
                xml += &folded(part.notes[*index].folded);
            }
            let head = format!("{}{beam}", head(*eighths));
            xml += &note(part, (instrument, tune.key.sharps), *index, (*eighths, &head), (tied, *goes_on));
            tied = *goes_on;
        }
        if number + usize::from(upbeat) == last {
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
        "<attributes><divisions>{DIVISIONS}</divisions><key><fifths>{}</fifths><mode>{}</mode></key>\
         <time><beats>{}</beats><beat-type>{}</beat-type></time><clef><sign>{sign}</sign><line>{line}</line></clef>\
         {transpose}</attributes>\n",
        tune.key.sharps,
        if tune.key.minor { "minor" } else { "major" },
        tune.meter.beats,
        tune.meter.unit
    )
}

/// How fast it goes, above the staff and for players, where the tune says it.
fn tempo(tune: &Tune) -> String {
    let Some(beats) = tune.tempo else { return String::new() };
    let dot = if tune.meter.beat_eighths() == 3 { "<beat-unit-dot/>" } else { "" };
    // Players count in quarters.
    let quarters = f64::from(beats) * f64::from(tune.meter.beat_eighths()) / 2.0;
    format!(
        "<direction placement=\"above\"><direction-type><metronome><beat-unit>quarter</beat-unit>{dot}\
         <per-minute>{beats}</per-minute></metronome></direction-type><sound tempo=\"{quarters}\"/></direction>\n"
    )
}

/// What stands above a note that is moved by octaves of its own.
fn folded(octaves: i8) -> String {
    if octaves == 0 {
        return String::new();
    }
    let way = if octaves < 0 { "lower" } else { "higher" };
    let words = match octaves.unsigned_abs() {
        1 => format!("octave {way}"),
        many => format!("{many} octaves {way}"),
    };
    format!(
        "<direction placement=\"above\"><direction-type><words font-size=\"8\">{words}</words></direction-type></direction>\n"
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
fn beams(tune: &Tune, part: &TunePart, bar: &[(usize, u8, bool)], first: bool) -> Vec<&'static str> {
    let beat = tune.meter.beat_eighths();
    // An upbeat ends where a beat begins.
    let short = tune.meter.eighths().saturating_sub(bar.iter().map(|(_, eighths, _)| *eighths).sum());
    let mut at = if first && tune.pickup_eighths > 0 { short } else { 0 };
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
