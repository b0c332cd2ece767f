//! Which size fits a child: proposed from a measure, with its reason. The shop and the child's comfort decide.
//!
//! Sizes start at their number, inclusive. Just below the next larger size a child is between sizes: the smaller is
//! proposed and the larger named with the day by which growth would reach it; on the cello the finger span decides.

use crate::worded::worded;
use chrono::NaiveDate;
use serde::{Deserialize, Serialize};

use crate::craft::instrument::{Instrument, InstrumentFacts, MainMeasure, Size};
use crate::number::MM_PER_INCH;
use crate::number::shown;

worded! {
    /// Something measured on a child, in millimetres; in the order in which they are taken.
    Measure {
        /// From the side of the neck to the middle of the palm, outstretched.
        Arm = "armMm",
        /// Standing height.
        Height = "heightMm",
        /// From the tip of finger 1 to the tip of finger 4, stretched.
        Span = "spanMm",
        /// From the floor to the crease behind the knee.
        Knee = "kneeMm",
        /// From the floor to the lips, standing.
        Lip = "lipMm",
        /// From the floor to the forehead, standing.
        Forehead = "foreheadMm",
    }
}

/// A measure that cannot be a child's.
#[derive(Clone, Copy, Debug, PartialEq, thiserror::Error)]
pub struct MeasureError {
    /// What was measured.
    pub measure: Measure,
    /// What was typed.
    pub mm: f64,
}

impl std::fmt::Display for MeasureError {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        let (low, high) = self.measure.range_mm();
        if !self.mm.is_finite() {
            return write!(f, "Type a number, {low} to {high} mm.");
        }
        write!(f, "{} mm cannot be: {} is {low} to {high} mm.", shown(self.mm), self.measure.article())?;
        let from_inches = self.mm * MM_PER_INCH;
        if (low..=high).contains(&from_inches) {
            write!(f, " In inches it would be {from_inches:.0} mm.")?;
        }
        let from_cm = self.mm * 10.0;
        if (low..=high).contains(&from_cm) {
            write!(f, " In centimetres it would be {from_cm:.0} mm.")?;
        }
        Ok(())
    }
}

/// How much the outstretched arm grows in a year, in millimetres.
pub const ARM_GROWTH_MM: f64 = 25.0;
/// How much a child grows in a year, in millimetres.
pub const HEIGHT_GROWTH_MM: f64 = 60.0;
/// So far below the next larger size an arm is between sizes.
pub const BETWEEN_ARM_MM: f64 = 10.0;
/// So far below the next larger size a height is between sizes.
pub const BETWEEN_HEIGHT_MM: f64 = 20.0;
/// After so many days a child is measured again.
pub const REMEASURE_AFTER_DAYS: i64 = 60;
const DAYS_A_YEAR: f64 = 365.0;

impl Measure {
    /// What a child of school age can have, in millimetres, both ends included.
    #[must_use]
    pub const fn range_mm(self) -> (f64, f64) {
        match self {
            Self::Arm => (250.0, 850.0),
            Self::Height => (800.0, 2100.0),
            Self::Span => (60.0, 260.0),
            Self::Knee => (200.0, 650.0),
            Self::Lip => (650.0, 1980.0),
            Self::Forehead => (740.0, 2060.0),
        }
    }

    const fn article(self) -> &'static str {
        match self {
            Self::Arm => "an arm",
            Self::Height => "a height",
            Self::Span => "a finger span",
            Self::Knee => "a knee height",
            Self::Lip => "a lip height",
            Self::Forehead => "a forehead height",
        }
    }

    /// The measure itself, if it can be a child's.
    ///
    /// # Errors
    /// [`MeasureError`], with what it would be if it was typed in inches or centimetres.
    pub fn check(self, mm: f64) -> Result<f64, MeasureError> {
        let (low, high) = self.range_mm();
        if (low..=high).contains(&mm) { Ok(mm) } else { Err(MeasureError { measure: self, mm }) }
    }
}

/// What is known of a child's measures, in millimetres, each checked by [`Measure::check`].
#[serde_with::skip_serializing_none]
#[derive(Clone, Copy, Debug, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct Measures {
    /// [`Measure::Arm`].
    pub arm_mm: Option<f64>,
    /// [`Measure::Height`].
    pub height_mm: Option<f64>,
    /// [`Measure::Span`].
    pub span_mm: Option<f64>,
    /// [`Measure::Knee`].
    pub knee_mm: Option<f64>,
    /// [`Measure::Lip`].
    pub lip_mm: Option<f64>,
    /// [`Measure::Forehead`].
    pub forehead_mm: Option<f64>,
}

impl Measures {
    /// One of them.
    #[must_use]
    pub const fn get(&self, measure: Measure) -> Option<f64> {
        match measure {
            Measure::Arm => self.arm_mm,
            Measure::Height => self.height_mm,
            Measure::Span => self.span_mm,
            Measure::Knee => self.knee_mm,
            Measure::Lip => self.lip_mm,
            Measure::Forehead => self.forehead_mm,
        }
    }

    /// The place of one of them.
    pub const fn get_mut(&mut self, measure: Measure) -> &mut Option<f64> {
        match measure {
            Measure::Arm => &mut self.arm_mm,
            Measure::Height => &mut self.height_mm,
            Measure::Span => &mut self.span_mm,
            Measure::Knee => &mut self.knee_mm,
            Measure::Lip => &mut self.lip_mm,
            Measure::Forehead => &mut self.forehead_mm,
        }
    }
}

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

/// The measures an instrument needs, in the order in which they are taken, by the class's option of setting the pin.
#[must_use]
pub fn wanted_measures(instrument: Instrument, pin: &str) -> &'static [Measure] {
    match instrument {
        Instrument::Violin | Instrument::Viola => &[Measure::Arm, Measure::Height],
        Instrument::Cello if pin == "standing" => &[Measure::Height, Measure::Span, Measure::Knee, Measure::Lip],
        Instrument::Cello => &[Measure::Height, Measure::Span, Measure::Knee],
        Instrument::Bass => &[Measure::Height, Measure::Forehead],
    }
}

/// Whether a child is to be measured (again): never measured, or [`REMEASURE_AFTER_DAYS`] days ago or more.
#[must_use]
pub fn wants_measuring(last: Option<NaiveDate>, today: NaiveDate) -> bool {
    last.is_none_or(|last| (today - last).num_days() >= REMEASURE_AFTER_DAYS)
}

/// Whether an instrument of this size is larger than the child's measures propose; a child between two sizes may have either.
#[must_use]
pub fn is_too_big(facts: &InstrumentFacts, size: &str, measures: &Measures) -> bool {
    // Sizes stand largest first.
    let place = |name: &str| facts.sizes.iter().position(|known| known.name == name);
    let proposal = propose(facts, measures).ok().filter(|proposal| !proposal.between);
    let proposed = proposal.and_then(|proposal| place(&proposal.proposed?));
    place(size).zip(proposed).is_some_and(|(has, proposed)| has < proposed)
}
