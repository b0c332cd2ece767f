//! An instrument at the bench: from what its markers' page follows, and what the page says of them, also with work that is
//! still on its way or being typed.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

use crate::craft::instrument::{Instrument, InstrumentFacts};
use crate::tapes::assessment::{MarkerAssessment, SpotStatus};
use crate::tapes::finger::{Finger, Spot};
use crate::tapes::layout::{LayoutFault, MIN_STRING_MM, positions};
use crate::tapes::log::{TapeEvent, TapeWork};
use crate::tapes::marker_set::MarkerSet;
use crate::tapes::marker_view::{MarkerView, marker_views};
use crate::tapes::new_entry::{NewTapeEntry, Subject};
use crate::tapes::record::{SpotRecord, TapeRecord};

/// From what everything about an instrument's markers follows.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "camelCase")]
pub struct BenchBasis {
    /// What is known of every instrument.
    pub all: BTreeMap<Instrument, InstrumentFacts>,
    /// The markers that the class calls for on it.
    pub set: MarkerSet,
    /// Its size.
    pub size: String,
    /// Its string length on record, in millimetres.
    pub length_mm: Option<f64>,
    /// Its log.
    pub events: Vec<TapeEvent>,
}

/// What a page says of an instrument's markers.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct MarkersNow {
    /// Marker by marker, as far as the log tells.
    pub spots: Vec<SpotStatus>,
    /// Every finger of first position, up the string, with what was measured.
    pub positions: Vec<MarkerView>,
}

impl BenchBasis {
    /// What is usual for its size, in millimetres: what is computed with until it is measured.
    #[must_use]
    pub fn usual_length_mm(&self) -> f64 {
        let facts = &self.set.facts;
        let usual = facts.size(&self.size).or_else(|| facts.sizes.first());
        usual.map_or(MIN_STRING_MM, |size| size.string_length_mm)
    }

    /// The length that everything is computed with, in millimetres.
    #[must_use]
    pub fn working_length_mm(&self) -> f64 {
        self.length_mm.unwrap_or_else(|| self.usual_length_mm())
    }

    fn subject(&self) -> Subject<'_> {
        Subject { all: &self.all, set: &self.set, size: &self.size, length_mm: self.length_mm }
    }

    /// The same instrument with entries that are not in its log yet, in the order in which they were made. What cannot be is
    /// left out, as the server leaves it out.
    #[must_use]
    pub fn with(mut self, entries: &[NewTapeEntry]) -> Self {
        for entry in entries {
            if self.events.iter().any(|event| event.id == entry.id) {
                continue;
            }
            let Ok(event) = entry.check(&self.subject()) else { continue };
            if let TapeWork::Measured { length_mm } = event.work {
                self.length_mm = Some(length_mm);
            }
            self.events.push(event);
        }
        self
    }

    /// What of an entry cannot be, and what to do; `None` for one that can.
    #[must_use]
    pub fn problem(&self, entry: &NewTapeEntry) -> Option<String> {
        entry.check(&self.subject()).err()
    }

    /// The record of its log.
    #[must_use]
    pub fn record(&self) -> TapeRecord {
        TapeRecord::of(&self.events)
    }

    /// What its page says of its markers.
    ///
    /// # Errors
    /// [`LayoutFault`] for a length or settings that cannot be.
    pub fn markers(&self) -> Result<MarkersNow, LayoutFault> {
        let record = self.record();
        let assessment = MarkerAssessment::of(&record, &self.set, self.length_mm);
        Ok(MarkersNow { spots: assessment.spots, positions: self.positions(&record)? })
    }

    /// Every finger of first position, up the string, with what was measured.
    ///
    /// # Errors
    /// [`LayoutFault`] for a length or settings that cannot be.
    pub fn positions(&self, record: &TapeRecord) -> Result<Vec<MarkerView>, LayoutFault> {
        let instrument = self.set.instrument;
        let edge = |(spot, known): (&Spot, &SpotRecord)| match spot {
            Spot::Finger(finger) => Some((*finger, known.edge_mm?)),
            Spot::Thumb | Spot::FingerLine => None,
        };
        let measured: BTreeMap<Finger, f64> = record.spots.iter().filter_map(edge).collect();
        let laid = |measured: &BTreeMap<Finger, f64>| {
            positions(instrument, self.working_length_mm(), &self.set.settings, Finger::of(instrument), measured)
        };
        // Markers measured before the bridge moved may no longer be in order: then they are shown without.
        let found = laid(&measured).or_else(|_| laid(&BTreeMap::new()))?;
        Ok(marker_views(&self.set.facts, &self.set.settings, &found))
    }
}
