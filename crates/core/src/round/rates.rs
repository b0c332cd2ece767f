//! How children get on in the model of [`crate::round::play`]: chances at one meeting.

use crate::craft::strand::Strand;

/// How children get on, as chances at one meeting for a child of pace 1.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Rates {
    /// What is below Alone in a stage that is not shut rises by class teaching.
    pub base: f64,
    /// What was looked at below Alone rises for the next look.
    pub coach: f64,
    /// What was seen at Alone or better slips.
    pub slip: f64,
}

/// How children get on in each strand.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct ClassRates([Rates; Strand::ALL.len()]);

impl ClassRates {
    /// The rates of each strand.
    #[must_use]
    pub fn new(of: impl FnMut(Strand) -> Rates) -> Self {
        Self(Strand::ALL.map(of))
    }

    /// Those of one strand.
    #[must_use]
    pub fn of(&self, strand: Strand) -> &Rates {
        &self.0[strand.place()]
    }
}

impl From<Rates> for ClassRates {
    /// The same in every strand.
    fn from(rates: Rates) -> Self {
        Self::new(|_| rates)
    }
}
