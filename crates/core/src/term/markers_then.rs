//! The markers of the instruments that a child had, as they were at each meeting.

use chrono::{DateTime, Utc};

use crate::AssetId;
use crate::tapes::assessment::MarkerAssessment;
use crate::tapes::log::TapeEvent;
use crate::tapes::marker_set::MarkerSet;
use crate::tapes::record::TapeRecord;
use crate::term::past::Span;

/// An instrument that a child has or had.
#[derive(Clone, Debug)]
pub struct Held<'a> {
    /// Which.
    pub asset: AssetId,
    /// Its size, as it is spoken of.
    pub size: &'a str,
    /// Its string length, in millimetres.
    pub length_mm: Option<f64>,
    /// Since when.
    pub since: DateTime<Utc>,
    /// Until when; `None` for now.
    pub until: Option<DateTime<Utc>>,
    /// What was done to its markers, by anybody, in the order of (moment, id); what was taken back is left out.
    pub log: &'a [TapeEvent],
    /// The markers that the class calls for on it.
    pub set: &'a MarkerSet,
}

impl Held<'_> {
    /// Whether the child had it when a meeting was over.
    #[must_use]
    pub fn is_had_at(&self, span: &Span<'_>, meeting: u32) -> bool {
        let over = |moment| span.calendar.meeting_at(moment) <= meeting;
        over(self.since) && !self.until.is_some_and(over)
    }

    /// How many entries of its log there were when a meeting was over.
    fn entries_at(&self, span: &Span<'_>, meeting: u32) -> usize {
        self.log.partition_point(|entry| span.calendar.meeting_at(entry.at) <= meeting)
    }
}

/// What the log of the instrument that a child had when a meeting was over came to; `None` where it had none.
#[must_use]
pub fn markers_at(held: &[Held<'_>], span: &Span<'_>, meeting: u32) -> Option<MarkerAssessment> {
    let mut then = MarkersThen::default();
    then.goes_on(held, span, meeting);
    then.assessment
}

/// What the log of the instrument that a child had came to, meeting by meeting. It is read anew only where something happened.
#[derive(Default)]
pub(super) struct MarkersThen {
    read: Option<(AssetId, usize)>,
    assessment: Option<MarkerAssessment>,
}

impl MarkersThen {
    /// Goes on to a meeting; whether something is different now.
    pub(super) fn goes_on(&mut self, held: &[Held<'_>], span: &Span<'_>, meeting: u32) -> bool {
        let here = held.iter().rev().find(|held| held.is_had_at(span, meeting));
        let read = here.map(|held| (held.asset, held.entries_at(span, meeting)));
        if read == self.read {
            return false;
        }
        self.read = read;
        let assess = |held: &Held<'_>, entries: usize| {
            MarkerAssessment::of(&TapeRecord::of(&held.log[..entries]), held.set, held.length_mm)
        };
        self.assessment = here.zip(read).map(|(held, (_, entries))| assess(held, entries));
        true
    }

    pub(super) fn assessment(&self) -> Option<MarkerAssessment> {
        self.assessment.clone()
    }
}
