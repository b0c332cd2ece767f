//! The tape log in words.

use std::collections::BTreeSet;

use bright_row_core::number::tenths;
use bright_row_core::tapes::finger::Spot;
use bright_row_core::tapes::log::{Heard, Proof, Strips, TapeWork};
use bright_row_core::tapes::settings::Align;

/// What was done, in a line.
pub(crate) fn entry_words(work: &TapeWork) -> String {
    match work {
        TapeWork::Measured { length_mm } => format!("String measured: {:.1} mm", tenths(*length_mm)),
        TapeWork::Placed { spots, strips } => {
            format!("Laid: {}{}", listed(spots), strips.map(strip_words).unwrap_or_default())
        }
        TapeWork::Positions { edges } => {
            let edge = |(finger, mm): (&bright_row_core::tapes::finger::Finger, &f64)| {
                format!("{} at {:.1} mm", finger.spoken(), tenths(*mm))
            };
            format!("Measured: {}", edges.iter().map(edge).collect::<Vec<_>>().join(", "))
        }
        TapeWork::Heard { finger, proof, heard } => {
            let heard = match heard {
                Heard::True => "true".to_owned(),
                Heard::High => "high".to_owned(),
                Heard::Low => "low".to_owned(),
                Heard::Cents(cents) => format!("{:+.0} cents", cents.round()),
            };
            format!("Heard {} {heard}, {}", finger.spoken(), proof_words(*proof))
        }
        TapeWork::Held => "Still there, still true".to_owned(),
        TapeWork::Loose { spots } => format!("Coming off: {}", listed(spots)),
        TapeWork::Missing { spots } => format!("Gone: {}", listed(spots)),
        TapeWork::Bridge { moved_mm: Some(mm) } => format!("Bridge moved by {:+.1} mm", tenths(*mm)),
        TapeWork::Bridge { moved_mm: None } => "Bridge moved".to_owned(),
        TapeWork::Strings => "New strings".to_owned(),
        TapeWork::Thinned { spots } => format!("Taken away: {}", listed(spots)),
        TapeWork::Back { spots } => format!("On again: {}", listed(spots)),
        TapeWork::Bare => "Every marker taken away".to_owned(),
        TapeWork::Undone { .. } => "Taken back".to_owned(),
    }
}

fn listed(spots: &BTreeSet<Spot>) -> String {
    spots.iter().map(|spot| spot.spoken()).collect::<Vec<_>>().join(", ")
}

fn strip_words(strips: Strips) -> String {
    let aligned = match strips.align {
        Align::NutEdge => "nut side on the line",
        Align::Middle => "middle on the line",
        Align::BridgeEdge => "bridge side on the line",
    };
    format!(" ({:.1} mm strips, {aligned})", tenths(strips.width_mm))
}

fn proof_words(proof: Proof) -> &'static str {
    match proof {
        Proof::OpenString => "against an open string",
        Proof::Step => "by steps from a proved marker",
        Proof::Tone => "against a reference tone",
        Proof::Tuner => "with a tuner",
    }
}

/// A look in class, in a line.
pub(crate) fn look_words(target: &str, level: Option<i16>) -> String {
    let there = level.is_none_or(|level| level >= 3);
    let words = match (target, there) {
        ("tape.measured", true) => "string length on record",
        ("tape.measured", false) => "not the instrument on record",
        ("tape.placed", true) => "markers on",
        ("tape.placed", false) => "markers loose or missing",
        ("tape.heard", true) => "proved by ear",
        ("tape.heard", false) => "not true by ear",
        ("tape.thinning", true) => "some taken away, still in tune",
        ("tape.off", true) => "none left, in tune",
        (_, true) => "still there, still true",
        (_, false) => "no longer true",
    };
    format!("Seen in class: {words}")
}
