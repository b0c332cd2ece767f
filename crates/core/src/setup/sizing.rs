//! Which size fits a child: proposed from a measure, with its reason. The shop and the child's comfort decide.
//!
//! Sizes start at their number, inclusive. Just below the next larger size a child is between sizes: the smaller is
//! proposed and the larger named with the day by which growth would reach it; on the cello the finger span decides.

use serde::Serialize;
use std::cmp::Ordering;

use crate::craft::instrument::{InstrumentFacts, MainMeasure, Size};
use crate::setup::measures::{Measure, Measures};

/// How much the outstretched arm grows in a year, in millimetres.
pub const ARM_GROWTH_MM: f64 = 25.0;
/// How much a child grows in a year, in millimetres.
pub const HEIGHT_GROWTH_MM: f64 = 60.0;
/// So far below the next larger size an arm is between sizes.
pub const BETWEEN_ARM_MM: f64 = 10.0;
/// So far below the next larger size a height is between sizes.
pub const BETWEEN_HEIGHT_MM: f64 = 20.0;
const DAYS_A_YEAR: f64 = 365.0;

/// The size proposed for a child.
#[serde_with::skip_serializing_none]
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct SizeProposal {
    /// The size; `None` when the child is too small for any.
    pub proposed: Option<String>,
    /// Just below the next larger size.
    pub between: bool,
    /// The next larger size, when between.
    pub larger: Option<String>,
    /// Where the larger size begins, in millimetres.
    pub larger_from_mm: Option<f64>,
    /// In how many days growth would reach it.
    pub reaches_larger_in_days: Option<u32>,
    /// Why.
    #[serde(flatten)]
    pub reason: SizeReason,
}

/// Why a size is proposed, or none. All lengths in millimetres.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "reason", rename_all = "camelCase")]
pub enum SizeReason {
    /// The measure reaches the size.
    #[serde(rename_all = "camelCase")]
    FromOn {
        /// Which measure.
        measure: Measure,
        /// The child's.
        value_mm: f64,
        /// Where the size begins.
        from_mm: f64,
    },
    /// The measure reaches the size and is just below the larger one: the smaller is proposed.
    #[serde(rename_all = "camelCase")]
    Between {
        /// Which measure.
        measure: Measure,
        /// The child's.
        value_mm: f64,
        /// Where the size proposed begins.
        from_mm: f64,
    },
    /// The measure is just below the size, and the span of the hand reaches it.
    #[serde(rename_all = "camelCase")]
    SpanReaches {
        /// Which measure.
        measure: Measure,
        /// The child's.
        value_mm: f64,
        /// Where the size begins.
        from_mm: f64,
        /// The child's span.
        span_mm: f64,
        /// From which span on the size is reached.
        span_from_mm: f64,
    },
    /// The measure is below the smallest size.
    #[serde(rename_all = "camelCase")]
    TooSmall {
        /// Which measure.
        measure: Measure,
        /// The child's.
        value_mm: f64,
        /// The smallest size there is.
        #[serde(skip_serializing_if = "Option::is_none")]
        smallest: Option<String>,
        /// Where it begins.
        #[serde(skip_serializing_if = "Option::is_none")]
        from_mm: Option<f64>,
    },
}

/// The measure without which no size can be proposed.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Missing(pub Measure);

/// Proposes a size of this instrument.
///
/// # Errors
/// [`Missing`] names the measure that is wanted.
pub fn propose(facts: &InstrumentFacts, measures: &Measures) -> Result<SizeProposal, Missing> {
    let (measure, near, growth) = match facts.measure {
        MainMeasure::Arm => (Measure::Arm, BETWEEN_ARM_MM, ARM_GROWTH_MM),
        MainMeasure::Height => (Measure::Height, BETWEEN_HEIGHT_MM, HEIGHT_GROWTH_MM),
    };
    let value_mm = measures.get(measure).ok_or(Missing(measure))?;
    // Largest first, as in the content.
    let sizes: Vec<(&Size, f64)> = facts.sizes.iter().filter_map(|size| Some((size, size.from_mm?))).collect();
    let fits = sizes.iter().position(|(_, from)| value_mm >= *from);
    let Some(index) = fits else {
        return Ok(too_small(measure, value_mm, sizes.last()));
    };
    let (size, from_mm) = sizes[index];
    let larger = index.checked_sub(1).map(|index| sizes[index]).filter(|(_, from)| from - value_mm <= near);
    let Some((larger, larger_from)) = larger else {
        return Ok(SizeProposal::plain(&size.name, SizeReason::FromOn { measure, value_mm, from_mm }));
    };
    if let (Some(span_mm), Some(span_from_mm)) = (measures.span_mm, larger.span_from_mm)
        && span_mm >= span_from_mm
    {
        let reason = SizeReason::SpanReaches { measure, value_mm, from_mm: larger_from, span_mm, span_from_mm };
        return Ok(SizeProposal::plain(&larger.name, reason));
    }
    Ok(SizeProposal {
        proposed: Some(size.name.clone()),
        between: true,
        larger: Some(larger.name.clone()),
        larger_from_mm: Some(larger_from),
        reaches_larger_in_days: Some(days_to_grow(larger_from - value_mm, growth)),
        reason: SizeReason::Between { measure, value_mm, from_mm },
    })
}

impl SizeProposal {
    fn plain(size: &str, reason: SizeReason) -> Self {
        Self {
            proposed: Some(size.to_owned()),
            between: false,
            larger: None,
            larger_from_mm: None,
            reaches_larger_in_days: None,
            reason,
        }
    }
}

fn too_small(measure: Measure, value_mm: f64, smallest: Option<&(&Size, f64)>) -> SizeProposal {
    let (name, from_mm) = (smallest.map(|(size, _)| size.name.clone()), smallest.map(|(_, from)| *from));
    SizeProposal {
        proposed: None,
        between: false,
        larger: name.clone(),
        larger_from_mm: from_mm,
        reaches_larger_in_days: None,
        reason: SizeReason::TooSmall { measure, value_mm, smallest: name, from_mm },
    }
}

/// Whole days until something has grown by `mm` at `mm_a_year`, rounded up.
fn days_to_grow(mm: f64, mm_a_year: f64) -> u32 {
    let days = (mm / mm_a_year * DAYS_A_YEAR).ceil();
    crate::number::whole(days)
}

/// Whether an instrument of this size is larger than the child's measures propose; a child between two sizes may have either.
#[must_use]
pub fn is_too_big(facts: &InstrumentFacts, size: &str, measures: &Measures) -> bool {
    compared(facts, size, measures) == Some(Ordering::Greater)
}

/// How a size stands to the one that the measures propose, larger or smaller; `None` where they propose none, or either of two.
#[must_use]
pub fn compared(facts: &InstrumentFacts, size: &str, measures: &Measures) -> Option<Ordering> {
    // Sizes stand largest first.
    let place = |name: &str| facts.sizes.iter().position(|known| known.name == name);
    let proposal = propose(facts, measures).ok().filter(|proposal| !proposal.between)?;
    let (has, proposed) = (place(size)?, place(&proposal.proposed?)?);
    Some(proposed.cmp(&has))
}
