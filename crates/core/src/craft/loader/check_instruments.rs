//! The four instruments, their strings and sizes.

use std::collections::BTreeMap;

use super::draft::InstrumentDraft;
use super::fault::At;
use super::fault::Faults;
use crate::craft::instrument::{Instrument, InstrumentFacts, MainMeasure, OpenString, STRING_HEIGHTS_MM, Size};
use crate::craft::pitch::midi_of;

/// String lengths that can be, in millimetres.
const LENGTHS_MM: std::ops::RangeInclusive<f64> = 150.0..=1300.0;

pub(super) fn instruments(drafts: Vec<InstrumentDraft>, faults: &mut Faults) -> BTreeMap<Instrument, InstrumentFacts> {
    let mut known = BTreeMap::new();
    for draft in drafts {
        let Some(instrument) = Instrument::parse(&draft.name.value) else {
            faults.push(draft.name.fault(format!("`{}` is not one of the four instruments", draft.name.value)));
            continue;
        };
        let facts = instrument_facts(instrument, &draft, faults);
        if known.insert(instrument, facts).is_some() {
            faults.push(draft.name.fault(format!("the {} stands here twice", instrument.name())));
        }
    }
    let whole = At { file: "instruments.toml".to_owned(), line: 1, value: () };
    for instrument in Instrument::ALL.into_iter().filter(|instrument| !known.contains_key(instrument)) {
        faults.push(whole.fault(format!("the {} is missing", instrument.name())));
    }
    known
}

fn instrument_facts(instrument: Instrument, draft: &InstrumentDraft, faults: &mut Faults) -> InstrumentFacts {
    let mut strings = Vec::new();
    for note in &draft.strings {
        match midi_of(&note.value) {
            Some(midi) => strings.push(OpenString { note: note.value.clone(), midi }),
            None => faults.push(note.fault(format!("`{}` is not a note with its octave, such as D4", note.value))),
        }
    }
    if strings.len() != 4 || !strings.is_sorted_by(|low, high| low.midi < high.midi) {
        faults.push(draft.name.fault("four open strings are wanted, low to high"));
    }
    let mut sizes: Vec<Size> = Vec::new();
    for size in &draft.sizes {
        let (Some(name), Some(length)) = (&size.name, &size.string_length_mm) else {
            faults.push(draft.name.fault("every size has a `name` and a `string_length_mm`"));
            continue;
        };
        if !LENGTHS_MM.contains(&length.value) {
            faults.push(length.fault("a string is 150 to 1300 mm long"));
        }
        if sizes.iter().any(|size| size.name == name.value) {
            faults.push(name.fault(format!("the size {} stands here twice", name.value)));
        }
        let value = |at: &Option<At<f64>>| at.as_ref().map(|at| at.value);
        sizes.push(Size {
            name: name.value.clone(),
            string_length_mm: length.value,
            from_mm: value(&size.from_mm),
            span_from_mm: value(&size.span_from_mm),
            without_pin_mm: value(&size.without_pin_mm),
        });
    }
    if sizes.is_empty() || !sizes.is_sorted_by(|large, small| large.string_length_mm > small.string_length_mm) {
        faults.push(draft.name.fault("sizes are wanted, largest first"));
    }
    let starts: Vec<f64> = sizes.iter().filter_map(|size| size.from_mm).collect();
    if starts.is_empty() || !starts.is_sorted_by(|large, small| large > small) {
        faults.push(draft.name.fault("the sizes' `from_mm` fall from the largest to the smallest"));
    }
    let measure = match draft.measure.as_ref().map(|measure| (measure, measure.value.as_str())) {
        Some((_, "arm")) | None => MainMeasure::Arm,
        Some((_, "height")) => MainMeasure::Height,
        Some((at, other)) => {
            faults.push(at.fault(format!("`{other}` is neither arm nor height")));
            MainMeasure::Arm
        }
    };
    for marker in draft.markers.iter().filter(|marker| !matches!(marker.value.as_str(), "1" | "2" | "3" | "4")) {
        faults.push(marker.fault(format!("`{}` is not a finger, 1 to 4", marker.value)));
    }
    let markers = draft.markers.iter().map(|marker| marker.value.clone()).collect();
    if let Some(height) = draft.string_height_mm.iter().find(|height| !STRING_HEIGHTS_MM.contains(&height.value)) {
        faults.push(height.fault("strings are 0.5 to 20 mm over the fingerboard"));
    }
    let string_height_mm = draft.string_height_mm.as_ref().map(|height| height.value);
    InstrumentFacts { instrument, strings, sizes, measure, markers, strip_mm: draft.strip_mm.value, string_height_mm }
}
