//! Tunes as they are written, and as they are read.

use std::collections::BTreeSet;

use super::entry::Entry;
use super::fault::At;
use super::fault::{Faults, short};
use crate::craft::limits::MAX_NAME_LENGTH;
use crate::craft::tune::{Meter, Tune, notes, sharps_of};

pub(super) struct TuneDraft {
    id: At<String>,
    name: At<String>,
    key: At<String>,
    meter: At<String>,
    notes: At<String>,
}

pub(super) fn read(root: Entry<'_, '_>) -> Vec<TuneDraft> {
    let tunes = root.tables("tune").into_iter().filter_map(|entry| {
        let (id, name, key) = (entry.text("id"), entry.text("name"), entry.text("key"));
        let (meter, notes) = (entry.text("meter"), entry.text("notes"));
        entry.finish();
        Some(TuneDraft { id: id?, name: name?, key: key?, meter: meter?, notes: notes? })
    });
    let tunes = tunes.collect();
    root.finish();
    tunes
}

pub(super) fn check(drafts: Vec<TuneDraft>, faults: &mut Faults) -> Vec<Tune> {
    let mut ids = BTreeSet::new();
    let mut tunes = Vec::new();
    for draft in drafts {
        short(&draft.name, "name", MAX_NAME_LENGTH * 2, faults);
        if !ids.insert(draft.id.value.clone()) {
            faults.push(draft.id.fault(format!("`{}` stands here twice", draft.id.value)));
        }
        let meter = Meter::parse(&draft.meter.value).map_err(|fault| draft.meter.fault(fault.to_string()));
        let sharps = sharps_of(&draft.key.value).map_err(|fault| draft.key.fault(fault.to_string()));
        let bar_eighths = meter.as_ref().map_or(8, |meter| meter.eighths());
        let notes = notes(&draft.notes.value, bar_eighths).map_err(|fault| draft.notes.fault(fault.to_string()));
        match (meter, sharps, notes) {
            (Ok(meter), Ok(sharps), Ok(notes)) => {
                let (id, name) = (draft.id.value, draft.name.value);
                tunes.push(Tune { id, name, sharps, bar_eighths, meter, notes });
            }
            (meter, sharps, notes) => {
                faults.extend([meter.err(), sharps.err(), notes.err()].into_iter().flatten());
            }
        }
    }
    tunes
}
