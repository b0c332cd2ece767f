//! The first notes on the four instruments.

mod support;

use bright_row_core::instrument::Instrument;
use bright_row_core::notes::{FIRST_NOTES, Stop, fingers, name};
use support::content;

#[test]
fn the_first_notes_bear_the_same_names_with_each_instruments_own_finger() {
    let content = content();
    let told = FIRST_NOTES.map(|note| {
        let made = Instrument::ALL.map(|instrument| {
            let (called, stop) = note.on(&content.instruments[&instrument]).expect("in first position");
            let finger = match stop {
                Stop::Finger(finger) => finger.to_owned(),
                Stop::Open(string) => format!("open {string}"),
            };
            (called, finger)
        });
        assert!(made.iter().all(|(called, _)| *called == made[0].0), "one name");
        let fingers: Vec<&str> = made.iter().map(|(_, finger)| finger.as_str()).collect();
        format!("{} on {}: {}", made[0].0, note.string, fingers.join(", "))
    });
    assert_eq!(
        told,
        [
            "E on D: 1, 1, 1, 1",
            "F sharp on D: 2, 2, 3, 4",
            "G on D: 3, 3, 4, open G",
            "B on A: 1, 1, 1, 1",
            "C sharp on A: 2, 2, 3, 4",
            "D on A: 3, 3, 4, open D",
        ]
    );
}

#[test]
fn every_finger_stops_another_note_and_names_repeat_with_the_octave() {
    for instrument in Instrument::ALL {
        let mut semitones: Vec<u8> = fingers(instrument).iter().map(|(_, semitones)| *semitones).collect();
        semitones.sort_unstable();
        semitones.dedup();
        assert_eq!(semitones.len(), fingers(instrument).len());
    }
    for midi in 0..=115_u8 {
        assert_eq!(name(midi), name(midi + 12));
    }
}
