//! A tune for four instruments: as `MusicXML` that a parser reads, and as a chart on one page.

#[path = "support/tunes.rs"]
mod tunes;

use std::collections::BTreeMap;

use bright_row_core::craft::instrument::Instrument;
use bright_row_core::tapes::colour::Colour;
use bright_row_documents::note_chart::{chart, word};
use bright_row_documents::pdf::{Paper, pdf};
use bright_row_documents::tune::musicxml::score;
use tunes::{built, content, parts};

const COLOURS: [Colour; 4] = [Colour::Green, Colour::Yellow, Colour::Red, Colour::Blue];

#[test]
fn a_short_tune_is_written_for_four_with_clefs_fingerings_and_ties() {
    let content = content();
    let tune = built("D4 F#4 A4:8 - D5:2", "4/4");
    insta::assert_snapshot!(score(&tune, &parts(content, &tune)));
}

#[test]
fn eighths_of_one_beat_hang_together() {
    let content = content();
    for (text, meter, beams) in [
        ("D4:1 D4:1 E4:1 E4:1 D4:4", "4/4", "begin end begin end"),
        // A rest, and a note that begins between two beats, stand alone.
        ("D4:1 -:1 E4:1 F#4:2 E4:1 D4:2", "4/4", ""),
        ("D4:3 E4:1 D4:1 D4:1 E4:2", "4/4", "begin end"),
        ("D4:1 E4:1 F#4:1 E4:1 D4:1 -:1", "6/8", "begin continue end begin end"),
    ] {
        let tune = built(text, meter);
        let xml = score(&tune, &parts(content, &tune)[..1]);
        let written: Vec<&str> =
            xml.split("<beam number=\"1\">").skip(1).filter_map(|rest| rest.split('<').next()).collect();
        assert_eq!(written.join(" "), beams, "{text}");
    }
}

/// Clef, transposition in octaves, and the notes of each part as a parser of `MusicXML` reads them.
fn read_back(xml: &str) -> Vec<(String, Vec<String>, BTreeMap<String, usize>)> {
    let score = musicxml::read_score_data_partwise(xml.as_bytes().to_vec()).expect("MusicXML");
    let mut parts = Vec::new();
    for part in &score.content.part {
        let mut head = String::new();
        let mut pitches = Vec::new();
        let mut counts = BTreeMap::new();
        for element in &part.content {
            use musicxml::elements::{MeasureElement, PartElement};
            let PartElement::Measure(measure) = element else { continue };
            for element in &measure.content {
                match element {
                    MeasureElement::Attributes(attributes) => {
                        let clef = &attributes.content.clef[0].content;
                        let octaves = attributes.content.transpose.first().and_then(|transpose| {
                            transpose.content.octave_change.as_ref().map(|change| change.content)
                        });
                        let line = clef.line.as_ref().map(|line| *line.content);
                        head = format!("{:?} {:?} {:?}", clef.sign.content, line, octaves);
                    }
                    MeasureElement::Note(note) => {
                        let (pitch, rest) = heads(&note.content);
                        *counts.entry(rest).or_insert(0) += 1;
                        pitches.extend(pitch);
                    }
                    _ => {}
                }
            }
        }
        parts.push((head, pitches, counts));
    }
    parts
}

fn heads(note: &musicxml::elements::NoteContents) -> (Option<String>, String) {
    use musicxml::elements::{AudibleType, NoteType};
    let NoteType::Normal(normal) = &note.info else { return (None, "other".to_owned()) };
    match &normal.audible {
        AudibleType::Pitch(pitch) => {
            let alter = pitch.content.alter.as_ref().map_or(0, |alter| *alter.content);
            let text = format!(
                "{:?}{}{}",
                pitch.content.step.content,
                if alter == 1 {
                    "#"
                } else if alter == -1 {
                    "b"
                } else {
                    ""
                },
                *pitch.content.octave.content
            );
            (Some(text), "pitch".to_owned())
        }
        _ => (None, "rest".to_owned()),
    }
}

#[test]
fn a_parser_reads_every_shipped_tune_with_all_its_notes_and_the_right_clefs() {
    let content = content();
    for tune in &content.tunes {
        let parts = parts(content, tune);
        let read = read_back(&score(tune, &parts));
        let heads: Vec<&str> = read.iter().map(|(head, ..)| head.as_str()).collect();
        assert_eq!(heads, ["G Some(2) None", "C Some(3) None", "F Some(4) None", "F Some(4) Some(-1)"], "{}", tune.id);
        for ((instrument, part), (_, pitches, _)) in parts.iter().zip(&read) {
            let wanted: Vec<String> = part
                .notes
                .iter()
                .filter_map(|placed| placed.fingering.map(|way| way.midi).or(placed.midi))
                // The bass is written an octave above what sounds.
                .map(|midi| {
                    bright_row_core::craft::pitch::note_name(if *instrument == Instrument::Bass {
                        midi + 12
                    } else {
                        midi
                    })
                })
                .collect();
            assert_eq!(pitches, &wanted, "{} on {instrument:?}", tune.id);
        }
    }
}

#[test]
fn the_chart_says_string_and_finger_of_every_note_and_what_is_not_in_first_position() {
    let content = content();
    let tune = built("D4 Eb4 C#5 - D5", "4/4");
    let parts = parts(content, &tune);
    let words = |instrument: usize| {
        let facts = &content.instruments[&parts[instrument].0];
        (0..tune.notes.len()).map(|note| word(facts, &parts[instrument].1, note)).collect::<Vec<_>>().join(" ")
    };
    assert_eq!(words(0), "D DL1 A2  A3");
    assert_eq!(words(3), "D – A4v  Dv");
    let voices: Vec<_> = parts.iter().map(|(instrument, part)| (&content.instruments[instrument], part)).collect();
    let page = chart(&tune, &voices, Some(COLOURS), Paper::A4);
    insta::assert_snapshot!(page.svg());
    // The longest tune is on one page of either paper, above its last line of words.
    let longest = built(&"F#4 ".repeat(96), "4/4");
    let parts = tunes::parts(content, &longest);
    let voices: Vec<_> = parts.iter().map(|(instrument, part)| (&content.instruments[instrument], part)).collect();
    for paper in [Paper::A4, Paper::Letter] {
        let svg = chart(&longest, &voices, None, paper).svg();
        let heights = svg.split(" y=\"").skip(1).filter_map(|rest| rest.split('"').next()?.parse::<f64>().ok());
        let lowest = heights.filter(|y| *y < paper.size_mm().1 - 8.5).fold(0.0, f64::max);
        assert!(lowest < paper.size_mm().1 - 12.0, "{lowest}");
    }
    assert!(pdf(&[page], "chart").expect("a file").starts_with(b"%PDF"));
}
