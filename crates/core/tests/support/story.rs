//! A child's story in a few words.

use std::collections::{BTreeMap, BTreeSet};

use bright_row_core::craft::checklist::Checklist;
use bright_row_core::craft::id::Target;
use bright_row_core::craft::id::{CheckpointId, SlipId};
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::craft::level::Level;
use bright_row_core::craft::loader::Content;
use bright_row_core::progress::context::ChildContext;
use bright_row_core::progress::ladder::Ladder;
use bright_row_core::progress::observation::{Observation, Observed};
use bright_row_core::progress::outlook::Outlook;
use bright_row_core::progress::pupil::Pupil;
use bright_row_core::progress::rhythm::Rhythm;
use bright_row_core::progress::standing::{Standing, standings};

use super::{calendar, looks, observation};

/// A child put together from its observations, with everything the rules read.
pub struct Child {
    pub instrument: Instrument,
    pub context: ChildContext,
    pub standings: BTreeMap<CheckpointId, Standing>,
    pub ladder: Ladder,
}

impl Child {
    pub fn new(
        checklist: &Checklist,
        instrument: Instrument,
        context: ChildContext,
        observations: &[Observation],
        now: u32,
    ) -> Self {
        let (calendar, rhythm) = (calendar(), Rhythm::default());
        let standings = standings(checklist, observations, &calendar, &rhythm);
        let outlook = Outlook { checklist, calendar: &calendar, rhythm: &rhythm, now };
        let ladder = outlook.ladder(&instrument.into(), &context, &standings);
        Self { instrument, context, standings, ladder }
    }

    pub fn pupil<'a>(&'a self, checklist: &'a Checklist, content: &'a Content) -> Pupil<'a> {
        Pupil {
            checklist,
            causes: &content.causes,
            instrument: self.instrument,
            context: &self.context,
            standings: &self.standings,
            ladder: &self.ladder,
        }
    }
}

/// A story in words: `hold.3=3` (a stage: all that it requires), `hold.tall=2+shoulder-up` (slips), `@4` (from here on at
/// that meeting, until the next), `pain:hold.tall`, `exempt:bow.little`.
pub fn lines(story: &str) -> (Vec<Observation>, ChildContext) {
    let (mut observations, mut context, mut meeting) = (Vec::new(), ChildContext::default(), 1);
    for word in story.split_whitespace() {
        if let Some(number) = word.strip_prefix('@') {
            meeting = number.parse().expect("a meeting");
        } else if let Some(target) = word.strip_prefix("pain:") {
            context.pain.insert(Target::from_id(target));
        } else if let Some(id) = word.strip_prefix("exempt:") {
            context.exempt.insert(CheckpointId::new(id));
        } else {
            let (target, seen) = word.split_once('=').expect("a look");
            let (number, slips) = seen.split_once('+').unwrap_or((seen, ""));
            let known = Level::try_from(number.parse::<u8>().expect("a number")).expect("a level");
            let slips: BTreeSet<SlipId> = slips.split('+').filter(|slip| !slip.is_empty()).map(SlipId::new).collect();
            for look in looks(&[(target, known)]) {
                let number = u32::try_from(observations.len()).expect("few");
                let seen = Observed::Level { level: known, slips: slips.clone() };
                observations
                    .push(Observation { target: look.target, ..observation(number, meeting, "hold.size", seen) });
            }
        }
    }
    (observations, context)
}
