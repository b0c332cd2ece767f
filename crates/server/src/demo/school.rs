//! Reading `demo/school.toml`.

use bright_row_core::instrument::Instrument;
use chrono_tz::Tz;
use serde::Deserialize;

const TEXT: &str = include_str!("../../../../demo/school.toml");

#[derive(Deserialize)]
pub(super) struct School {
    pub(super) program: String,
    pub(super) class: String,
    /// Still to be set up, from `demo/lunchtime-beginners.csv`.
    pub(super) second_class: String,
    pub(super) time_zone: Tz,
    pub(super) director: Person,
    pub(super) assistant: Person,
    #[serde(rename = "row")]
    pub(super) rows: Vec<Row>,
}

#[derive(Deserialize)]
pub(super) struct Person {
    pub(super) email: String,
    pub(super) name: String,
}

#[derive(Deserialize)]
pub(super) struct Row {
    #[serde(default)]
    pub(super) late_by_meetings: u32,
    pub(super) children: Vec<Pupil>,
}

#[derive(Deserialize)]
pub(super) struct Pupil {
    pub(super) name: String,
    pub(super) instrument: Instrument,
    pub(super) pace: Pace,
    pub(super) turn: Option<Turn>,
}

/// How fast a child takes things up.
#[derive(Clone, Copy, PartialEq, Eq, Deserialize)]
#[serde(rename_all = "lowercase")]
pub(super) enum Pace {
    Quick,
    Steady,
    Slow,
}

/// What is special in a child's story.
#[derive(Clone, Copy, PartialEq, Eq, Deserialize)]
#[serde(rename_all = "lowercase")]
pub(super) enum Turn {
    Seldom,
    Drifts,
    Sore,
}

impl School {
    pub(super) fn read() -> Self {
        toml::from_str(TEXT).expect("the demo school was checked by a test")
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_school_has_the_class_it_promises() {
        let school = School::read();
        let pupils: Vec<&Pupil> = school.rows.iter().flat_map(|row| &row.children).collect();
        let of = |instrument| pupils.iter().filter(|pupil| pupil.instrument == instrument).count();
        assert_eq!(Instrument::ALL.map(of), [14, 8, 9, 5]);
        assert_eq!((school.rows.len(), pupils.len()), (5, 36));
        let seldom = pupils.iter().filter(|pupil| pupil.turn == Some(Turn::Seldom)).count();
        assert_eq!(seldom, 3);
    }
}
