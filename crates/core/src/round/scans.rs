//! Scans: looks from afar at a whole row or section at once.

use serde::Serialize;
use std::collections::{BTreeMap, BTreeSet};

use crate::ChildId;
use crate::craft::checklist::Checklist;
use crate::craft::id::Target;
use crate::craft::instrument::Instrument;
use crate::craft::strand::Strand;
use crate::round::checks::Check;

/// Seconds of a scan, beside those for each child.
pub const SCAN_SECONDS: u32 = 10;
/// Seconds of a scan for each child in the row or section.
pub const SCAN_EACH: u32 = 1;

/// Which part of a class.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub enum PartKind {
    /// A row, 1 nearest the podium.
    Row(u8),
    /// Everybody who plays an instrument.
    Section(Instrument),
}

/// A part of the class that is seen at once.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct ClassPart {
    /// Which.
    pub kind: PartKind,
    /// The children in it who are here, by their places in what was given.
    pub children: Vec<usize>,
}

/// A look at many from afar.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Scan {
    /// What is looked at.
    pub target: Target,
    /// Which part of the class, by its place in what was given.
    pub part: usize,
    /// Children whose look it resolves, by their places.
    pub resolves: Vec<usize>,
    /// Seconds it takes.
    pub seconds: u32,
    /// Seconds of checks that it saves, less its own.
    pub saves: u32,
}

/// A child of the class with its checks.
pub type ChecksOfChild<'a> = (ChildId, &'a [Check]);

/// The scans that save time, the one that saves most first; what one resolves is no longer counted for the next. Among
/// equals the earlier part, then the earlier target.
#[must_use]
pub fn scans(children: &[ChecksOfChild<'_>], parts: &[ClassPart]) -> Vec<Scan> {
    let mut open: BTreeMap<(usize, &Target), u32> = BTreeMap::new();
    for (index, (_, checks)) in children.iter().enumerate() {
        for check in checks.iter().filter(|check| check.by_scan) {
            open.insert((index, check.target()), check.next.seconds);
        }
    }
    let targets: BTreeSet<&Target> = open.keys().map(|(_, target)| *target).collect();
    let mut scans = Vec::new();
    loop {
        let mut best: Option<Scan> = None;
        for (place, part) in parts.iter().enumerate() {
            for target in &targets {
                let scan = scan_of(target, place, part, &open);
                if scan.saves > best.as_ref().map_or(0, |best| best.saves) {
                    best = Some(scan);
                }
            }
        }
        let Some(scan) = best else { return scans };
        open.retain(|(index, target), _| **target != scan.target || !scan.resolves.contains(index));
        scans.push(scan);
    }
}

fn scan_of(target: &Target, place: usize, part: &ClassPart, open: &BTreeMap<(usize, &Target), u32>) -> Scan {
    let due = part.children.iter().filter_map(|index| Some((*index, *open.get(&(*index, target))?)));
    let (resolves, saved): (Vec<usize>, Vec<u32>) = due.unzip();
    let all = u32::try_from(part.children.len()).unwrap_or(u32::MAX);
    let seconds = SCAN_SECONDS.saturating_add(SCAN_EACH.saturating_mul(all));
    let saves = saved.iter().sum::<u32>().saturating_sub(seconds);
    Scan { target: target.clone(), part: place, resolves, seconds, saves }
}

/// What can be seen from two rows away: checkpoints, and stages all of whose required checkpoints can. In the order of the
/// ladder, a stage before its checkpoints.
#[must_use]
pub fn far_targets(checklist: &Checklist) -> Vec<Target> {
    let mut targets = Vec::new();
    for stage in checklist.stages().iter().filter(|stage| stage.strand != Strand::Tape) {
        let required = || checklist.checkpoints_of(&stage.id).filter(|checkpoint| checkpoint.required);
        if required().next().is_some() && required().all(|checkpoint| checkpoint.far) {
            targets.push(Target::Stage(stage.id.clone()));
        }
        let far = checklist.checkpoints_of(&stage.id).filter(|checkpoint| checkpoint.far);
        targets.extend(far.map(|checkpoint| Target::Checkpoint(checkpoint.id.clone())));
    }
    targets
}

/// The parts of a class, from each child's instrument and row (`None` without a seat): rows from the podium to the back, then
/// sections in score order; those without a child are left out.
#[must_use]
pub fn class_parts(children: &[(Instrument, Option<u8>)]) -> Vec<ClassPart> {
    let rows: BTreeSet<u8> = children.iter().filter_map(|(_, row)| *row).collect();
    let kinds = rows.into_iter().map(PartKind::Row).chain(Instrument::ALL.map(PartKind::Section));
    let part = |kind: PartKind| {
        let belongs = |(instrument, row): &(Instrument, Option<u8>)| match kind {
            PartKind::Row(number) => *row == Some(number),
            PartKind::Section(section) => *instrument == section,
        };
        let here = children.iter().enumerate().filter(|(_, child)| belongs(child)).map(|(index, _)| index);
        ClassPart { kind, children: here.collect() }
    };
    kinds.map(part).filter(|part| !part.children.is_empty()).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_class_has_its_rows_and_then_its_sections_and_none_that_is_empty() {
        let children = [
            (Instrument::Cello, Some(2)),
            (Instrument::Violin, Some(1)),
            (Instrument::Violin, None),
            (Instrument::Cello, Some(1)),
        ];
        let parts = class_parts(&children);
        let found: Vec<_> = parts.iter().map(|part| (part.kind, part.children.as_slice())).collect();
        assert_eq!(
            found,
            [
                (PartKind::Row(1), &[1, 3][..]),
                (PartKind::Row(2), &[0]),
                (PartKind::Section(Instrument::Violin), &[1, 2]),
                (PartKind::Section(Instrument::Cello), &[0, 3]),
            ]
        );
        assert_eq!(class_parts(&[]), []);
    }
}
