//! A child told in a few words.

use std::collections::{BTreeMap, BTreeSet};

use bright_row_core::checklist::{Checklist, CheckpointId, SlipId};
use bright_row_core::content::Content;
use bright_row_core::instrument::Instrument;
use bright_row_core::ladder::{Circumstances, Ladder, Outlook};
use bright_row_core::mark::{Level, Mark, Seen, Target};
use bright_row_core::priorities::Pupil;
use bright_row_core::standing::{Rhythm, Standing, standings};

use super::{calendar, looks, mark};

/// A child put together from its marks, with everything the rules read.
pub struct Child {
    pub instrument: Instrument,
    pub circumstances: Circumstances,
    pub standings: BTreeMap<CheckpointId, Standing>,
    pub ladder: Ladder,
}

impl Child {
    pub fn new(
        checklist: &Checklist,
        instrument: Instrument,
        circumstances: Circumstances,
        marks: &[Mark],
        now: u32,
    ) -> Self {
        let (calendar, rhythm) = (calendar(), Rhythm::default());
        let standings = standings(checklist, marks, &calendar, &rhythm);
        let outlook = Outlook { checklist, calendar: &calendar, rhythm: &rhythm, now };
        let ladder = outlook.ladder(&instrument.into(), &circumstances, &standings);
        Self { instrument, circumstances, standings, ladder }
    }

    pub fn pupil<'a>(&'a self, checklist: &'a Checklist, content: &'a Content) -> Pupil<'a> {
        Pupil {
            checklist,
            causes: &content.causes,
            instrument: self.instrument,
            circumstances: &self.circumstances,
            standings: &self.standings,
            ladder: &self.ladder,
        }
    }
}

/// A story in words: `hold.3=3` (a stage: all that it requires), `hold.tall=2+shoulder-up` (slips), `@4` (from here on at
/// that meeting, until the next), `pain:hold.tall`, `exempt:bow.little`.
pub fn told(story: &str) -> (Vec<Mark>, Circumstances) {
    let (mut marks, mut circumstances, mut meeting) = (Vec::new(), Circumstances::default(), 1);
    for word in story.split_whitespace() {
        if let Some(number) = word.strip_prefix('@') {
            meeting = number.parse().expect("a meeting");
        } else if let Some(target) = word.strip_prefix("pain:") {
            circumstances.pain.insert(Target::from_id(target));
        } else if let Some(id) = word.strip_prefix("exempt:") {
            circumstances.exempt.insert(CheckpointId::new(id));
        } else {
            let (target, seen) = word.split_once('=').expect("a look");
            let (number, slips) = seen.split_once('+').unwrap_or((seen, ""));
            let known = Level::try_from(number.parse::<u8>().expect("a number")).expect("a level");
            let slips: BTreeSet<SlipId> = slips.split('+').filter(|slip| !slip.is_empty()).map(SlipId::new).collect();
            for look in looks(&[(target, known)]) {
                let number = u32::try_from(marks.len()).expect("few");
                let seen = Seen::Level { level: known, slips: slips.clone() };
                marks.push(Mark { target: look.target, ..mark(number, meeting, "hold.size", seen) });
            }
        }
    }
    (marks, circumstances)
}
