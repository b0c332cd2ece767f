//! Tunes as they are written, and as they are read.

use std::collections::BTreeSet;

use super::entry::Entry;
use super::fault::{At, Fault, Faults, short};
use crate::craft::limits::MAX_NAME_LENGTH;
use crate::craft::tune::{Key, Line, Meter, Tune, line, tempo};

pub(super) struct TuneDraft {
    id: At<String>,
    name: At<String>,
    key: At<String>,
    meter: At<String>,
    tempo: Option<At<u32>>,
    notes: At<String>,
}

pub(super) fn read(root: Entry<'_, '_>) -> Vec<TuneDraft> {
    let tunes = root.tables("tune").into_iter().filter_map(|entry| {
        let (id, name, key) = (entry.text("id"), entry.text("name"), entry.text("key"));
        let (meter, tempo, notes) = (entry.text("meter"), entry.whole_number_if_any("tempo"), entry.text("notes"));
        entry.finish();
        Some(TuneDraft { id: id?, name: name?, key: key?, meter: meter?, tempo, notes: notes? })
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
        match draft.tune() {
            Ok(tune) => tunes.push(tune),
            Err(found) => faults.extend(found),
        }
    }
    tunes
}

impl TuneDraft {
    fn tune(self) -> Result<Tune, Vec<Fault>> {
        let meter = Meter::parse(&self.meter.value).map_err(|fault| self.meter.fault(fault.to_string()));
        let key = Key::parse(&self.key.value).map_err(|fault| self.key.fault(fault.to_string()));
        let beats = |beats: &At<u32>| {
            tempo(u16::try_from(beats.value).unwrap_or_default()).map_err(|fault| beats.fault(fault.to_string()))
        };
        let tempo = self.tempo.as_ref().map(beats).transpose();
        let bar_eighths = meter.as_ref().map_or(8, |meter| meter.eighths());
        let line = line(&self.notes.value, bar_eighths).map_err(|fault| self.notes.fault(fault.to_string()));
        match (meter, key, tempo, line) {
            (Ok(meter), Ok(key), Ok(tempo), Ok(Line { notes, pickup_eighths })) => {
                let (id, name) = (self.id.value, self.name.value);
                Ok(Tune { id, name, key, meter, tempo, pickup_eighths, notes })
            }
            (meter, key, tempo, line) => {
                Err([meter.err(), key.err(), tempo.err(), line.err()].into_iter().flatten().collect())
            }
        }
    }
}
