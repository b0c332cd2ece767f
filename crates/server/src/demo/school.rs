//! `ClassSnapshot` `demo/school.toml`.

use bright_row_core::craft::approach::Choices;
use bright_row_core::craft::checklist::Wording;
use bright_row_core::craft::drills::Drill;
use bright_row_core::craft::edits::{Edits, OwnCheckpoint, Rewording};
use bright_row_core::craft::id::{CheckpointId, StageId};
use bright_row_core::craft::instrument::Instrument;
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
    pub(super) choices: Choices,
    pub(super) reworded: Vec<Reworded>,
    pub(super) own: Vec<Own>,
    /// Drills of the class's own.
    #[serde(rename = "drill")]
    pub(super) drills: Vec<Drill>,
    /// Shared drills that the class does not use.
    pub(super) drills_off: Vec<String>,
    #[serde(rename = "accommodation")]
    pub(super) accommodations: Vec<Accommodated>,
    #[serde(rename = "own_way")]
    pub(super) overrides: Vec<OwnWay>,
    pub(super) opened: Vec<Opened>,
    #[serde(rename = "row")]
    pub(super) rows: Vec<Row>,
}

/// A text that the class words otherwise.
#[derive(Deserialize)]
pub(super) struct Reworded {
    pub(super) checkpoint: CheckpointId,
    pub(super) instruments: Vec<Instrument>,
    pub(super) cue: String,
}

/// A checkpoint of the class's own, for all four instruments.
#[derive(Deserialize)]
pub(super) struct Own {
    pub(super) id: CheckpointId,
    pub(super) stage: StageId,
    pub(super) name: String,
    pub(super) seconds: u32,
    pub(super) far: bool,
    pub(super) look_for: String,
    pub(super) cue: String,
}

#[derive(Deserialize)]
pub(super) struct Accommodated {
    pub(super) child: String,
    pub(super) checkpoint: CheckpointId,
    pub(super) look_for: String,
    pub(super) reason: String,
}

#[derive(Deserialize)]
pub(super) struct OwnWay {
    pub(super) child: String,
    pub(super) choice: String,
    pub(super) option: String,
}

#[derive(Deserialize)]
pub(super) struct Opened {
    pub(super) child: String,
    pub(super) stage: StageId,
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
    Rested,
}

impl School {
    pub(super) fn read() -> Self {
        toml::from_str(TEXT).expect("the demo school was checked by a test")
    }

    /// What the class changed on the checklist.
    pub(super) fn edits(&self) -> Edits {
        let mut edits = Edits::default();
        for text in &self.reworded {
            let rewording = Rewording { cue: Some(text.cue.clone()), ..Rewording::default() };
            let on = text.instruments.iter().map(|on| (*on, rewording.clone()));
            edits.reworded.entry(text.checkpoint.clone()).or_default().extend(on);
        }
        for own in &self.own {
            let (look_for, cue) = (own.look_for.clone(), own.cue.clone());
            let wording = Wording { look_for, proof: String::new(), cue };
            let (stage, name, seconds, far) = (own.stage.clone(), own.name.clone(), own.seconds, own.far);
            let wording = Instrument::ALL.map(|on| (on, wording.clone())).into();
            let checkpoint =
                OwnCheckpoint { stage, name, seconds, required: false, far, play: false, wording, figure: None };
            edits.own.insert(own.id.clone(), checkpoint);
        }
        edits.drills = self.drills.iter().map(|drill| (drill.id.clone(), drill.clone())).collect();
        edits.drills_off.extend(self.drills_off.iter().cloned());
        edits
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

    #[test]
    fn what_the_class_chose_and_changed_can_be() {
        let (school, content) = (School::read(), crate::content::embedded());
        assert_eq!(school.edits().faults(content.template.shared()), []);
        assert_eq!(school.edits().drill_faults(content.template.shared(), &content.lessons), []);
        assert!(school.choices.iter().all(|(key, option)| content.approach.has(key, option)));
        let overrides = school.overrides.iter();
        assert!(overrides.into_iter().all(|way| content.approach.has(&way.choice, &way.option)));
        let pupils: Vec<&str> =
            school.rows.iter().flat_map(|row| &row.children).map(|pupil| pupil.name.as_str()).collect();
        let named = school.accommodations.iter().map(|own| &own.child);
        let named = named.chain(school.overrides.iter().map(|way| &way.child));
        for child in named.chain(school.opened.iter().map(|opened| &opened.child)) {
            assert!(pupils.contains(&child.as_str()), "{child}");
        }
    }
}
