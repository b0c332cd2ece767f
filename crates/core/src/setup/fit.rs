//! Fitting one child: what its measures come to, also while they are typed.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};
use serde_with::skip_serializing_none;

use crate::craft::instrument::{Instrument, InstrumentFacts};
use crate::setup::body::{PIN_TOLERANCE_MM, Pin, SEAT_TOLERANCE_MM, body_setup};
use crate::setup::measures::{Measure, Measures};
use crate::setup::sizing::{SizeProposal, propose};

/// The way of the pin that gives a number of its own: the child stands while it is found.
const STANDING: &str = "standing";

/// What the pin estimate says.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub enum PinAdvice {
    /// So far out.
    Out,
    /// All the way in.
    AllTheWayIn,
    /// A size smaller, if there is one.
    SmallerSize,
    /// A size larger, if there is one; otherwise the reference points decide.
    LargerSize,
}

/// First numbers for the body set-up, in millimetres.
#[skip_serializing_none]
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct SetupNumbers {
    /// Floor to the front of the seat.
    pub seat_mm: Option<f64>,
    /// Estimated from the height.
    pub seat_from_height: bool,
    /// A seat may be so far from it.
    pub seat_tolerance_mm: f64,
    /// What the pin estimate says.
    pub pin: Option<PinAdvice>,
    /// How far out.
    pub pin_mm: Option<f64>,
    /// Estimated from the height.
    pub pin_from_height: bool,
    /// A pin may be so far from it.
    pub pin_tolerance_mm: f64,
    /// The class's way gives no number of its own: this one is a first try.
    pub pin_first_try: bool,
}

impl SetupNumbers {
    /// The first numbers for a child with these measures on an instrument of this size, where the class goes about the pin in
    /// the way `pin`.
    #[must_use]
    pub fn of(facts: &InstrumentFacts, size: &str, measures: &Measures, pin_way: &str) -> Self {
        let setup = body_setup(facts, size, measures);
        let (pin, pin_mm) = match setup.pin {
            None => (None, None),
            Some(Pin::Out(mm)) => (Some(PinAdvice::Out), Some(mm.round())),
            Some(Pin::AllTheWayIn) => (Some(PinAdvice::AllTheWayIn), None),
            Some(Pin::SmallerSize) => (Some(PinAdvice::SmallerSize), None),
            Some(Pin::LargerSize) => (Some(PinAdvice::LargerSize), None),
        };
        Self {
            seat_mm: setup.seat_mm,
            seat_from_height: setup.seat_from_height,
            seat_tolerance_mm: SEAT_TOLERANCE_MM,
            pin,
            pin_mm,
            pin_from_height: setup.pin_from_height,
            pin_tolerance_mm: PIN_TOLERANCE_MM,
            pin_first_try: facts.instrument == Instrument::Cello && pin_way != STANDING,
        }
    }
}

/// A child to be fitted, as it is known or typed.
#[derive(Clone, Debug, PartialEq, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct FittingQuestion {
    /// What is known of its instrument.
    #[cfg_attr(feature = "schema", schema(value_type = Object))]
    pub facts: InstrumentFacts,
    /// Its measures.
    pub measures: Measures,
    /// The size of the instrument it has; absent: the size proposed.
    #[serde(default)]
    pub size: Option<String>,
    /// In which way the class goes about the pin.
    #[serde(default)]
    pub pin_way: String,
}

/// What measures come to.
#[skip_serializing_none]
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct FitAnswer {
    /// The size; absent while the measure that decides is missing or cannot be.
    pub proposal: Option<SizeProposal>,
    /// First numbers for the body set-up.
    pub numbers: SetupNumbers,
    /// What cannot be a child's, by measure, and what may be meant.
    pub problems: BTreeMap<String, String>,
}

impl FittingQuestion {
    /// What the measures come to. One that cannot be a child's counts as missing.
    #[must_use]
    pub fn answer(self) -> FitAnswer {
        let Self { facts, mut measures, size, pin_way } = self;
        let mut problems = BTreeMap::new();
        for measure in Measure::ALL {
            if let Some(Err(error)) = measures.get(*measure).map(|mm| measure.check(mm)) {
                problems.insert(measure.word().to_owned(), error.to_string());
                *measures.get_mut(*measure) = None;
            }
        }
        let proposal = propose(&facts, &measures).ok();
        let size = size.or_else(|| proposal.as_ref().and_then(|proposal| proposal.proposed.clone()));
        let numbers = SetupNumbers::of(&facts, size.as_deref().unwrap_or_default(), &measures, &pin_way);
        FitAnswer { proposal, numbers, problems }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::craft::instrument::{MainMeasure, Size};

    fn cello() -> InstrumentFacts {
        let size = |name: &str, from: f64, without_pin: f64| Size {
            name: name.to_owned(),
            string_length_mm: 600.0,
            from_mm: Some(from),
            span_from_mm: None,
            without_pin_mm: Some(without_pin),
        };
        InstrumentFacts {
            string_height_mm: None,
            instrument: Instrument::Cello,
            strings: Vec::new(),
            sizes: vec![size("3/4", 1400.0, 1100.0), size("1/2", 1220.0, 980.0)],
            measure: MainMeasure::Height,
            markers: Vec::new(),
            strip_mm: 80,
        }
    }

    fn asked(height_mm: f64, lip_mm: Option<f64>, size: Option<&str>) -> FitAnswer {
        let measures = Measures { height_mm: Some(height_mm), lip_mm, ..Measures::default() };
        let size = size.map(str::to_owned);
        FittingQuestion { facts: cello(), measures, size, pin_way: "seated".to_owned() }.answer()
    }

    #[test]
    fn numbers_follow_from_the_size_it_has_else_from_the_one_proposed() {
        let proposed = asked(1300.0, Some(1180.0), None);
        assert_eq!(proposed.proposal.and_then(|proposal| proposal.proposed).as_deref(), Some("1/2"));
        assert_eq!((proposed.numbers.pin, proposed.numbers.pin_mm), (Some(PinAdvice::Out), Some(200.0)));
        assert!(proposed.numbers.pin_first_try && !proposed.numbers.pin_from_height);
        assert_eq!(asked(1300.0, Some(1180.0), Some("3/4")).numbers.pin_mm, Some(80.0));
    }

    #[test]
    fn a_measure_that_cannot_be_is_told_and_counts_as_missing() {
        let answer = asked(130.0, Some(1180.0), None);
        assert_eq!(answer.proposal, None);
        assert_eq!(answer.numbers.seat_mm, None);
        let words = &answer.problems["heightMm"];
        assert!(words.contains("In centimetres it would be 1300 mm."), "{words}");
        assert_eq!(answer.problems.len(), 1);
    }
}
