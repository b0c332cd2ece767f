//! What an import of a roster would do, row by row, before anybody agrees to it.

use bright_row_core::setup::names;
use std::collections::{BTreeMap, BTreeSet};

use bright_row_core::craft::instrument::Instrument;
use bright_row_core::setup::roster::{ImportPlan, MAX_CHILDREN, RosterEntry, RosterField, RowAction};
use bright_row_core::setup::roster_row::RosterRow;
use bright_row_core::{ChildId, ImportId};
use bright_row_store::children::Child;
use serde::Serialize;
use serde_with::skip_serializing_none;
use utoipa::ToSchema;

use crate::digest::digest;
use crate::error::{ApiError, FieldError};
use crate::routes::setup::file_letters::LettersView;
use crate::routes::setup::roster_columns::Means;

/// What an import would do, or did.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct Preview {
    /// The columns with what they mean; empty for a bundle, whose columns are known.
    pub(super) columns: Vec<ColumnView>,
    /// The ways in which the file's letters could be read, with words of it, the way taken first; empty for a file that says how it
    /// is written.
    pub(super) letters: Vec<LettersView>,
    /// The groups of the file, by name.
    pub(super) groups: Vec<GroupView>,
    /// What is still to be said before anything can be imported.
    pub(super) needs: Option<String>,
    /// In the order of the file.
    pub(super) rows: Vec<RowView>,
    /// Children to add.
    pub(super) new: usize,
    /// Children to change.
    pub(super) changed: usize,
    /// Children just as they are.
    pub(super) same: usize,
    /// Rows left alone.
    pub(super) refused: usize,
    /// Names of children of the class that the file does not name: they stay as they are.
    pub(super) untouched: Vec<String>,
    /// Names of children of the class whom the office has taken out of its system: they stay until somebody takes them out here.
    pub(super) leaving: Vec<String>,
    /// Students whom the office's system has disabled; they are left out.
    pub(super) disabled: usize,
    /// Students whose time in a class is over by the office's file; they are left out.
    pub(super) ended: usize,
    /// Stands for exactly this; send it to agree.
    pub(super) digest: String,
    /// The import, once it is done.
    pub(super) import: Option<ImportId>,
}

/// A column of the file.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct ColumnView {
    pub(super) heading: String,
    pub(super) means: Means,
    /// The first cell below that is not empty.
    pub(super) example: String,
}

/// A group of the file.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct GroupView {
    pub(super) name: String,
    pub(super) rows: usize,
    pub(super) chosen: bool,
}

/// What becomes of a row.
#[derive(Clone, Copy, Serialize, ToSchema, PartialEq, Eq)]
#[serde(rename_all = "camelCase")]
pub enum RowOutcome {
    /// A child is added.
    New,
    /// A child is changed.
    Changed,
    /// Nothing to do.
    Same,
    /// Left alone.
    Refused,
}

/// A row with its action.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct RowView {
    /// The line in the file.
    pub(super) line: usize,
    pub(super) name: String,
    pub(super) action: RowOutcome,
    /// The instrument it will have.
    pub(super) instrument: Option<Instrument>,
    /// Why it is refused.
    pub(super) reason: Option<String>,
    /// What changes.
    pub(super) changes: Vec<RosterChange>,
}

/// A change of one field: from what, to what.
#[derive(Serialize, ToSchema)]
#[serde(tag = "field", rename_all = "camelCase")]
pub enum RosterChange {
    /// The name.
    Name(FromTo<String>),
    /// The instrument.
    Instrument(FromTo<Instrument>),
    /// The grade; empty for none.
    Grade(FromTo<String>),
    /// The number on the roster; empty for none.
    Number(FromTo<String>),
    /// Whether it sits near the front.
    NearFront(FromTo<bool>),
    /// Whether it sits near an aisle.
    NearAisle(FromTo<bool>),
}

/// From what, to what.
#[derive(Serialize, ToSchema)]
pub struct FromTo<T> {
    from: T,
    to: T,
}

impl Preview {
    /// What an office's export says beside its rows: whom it left out, and by their numbers who is taken out.
    pub(super) fn say_of_office(&mut self, known: &[Child], disabled: usize, ended: usize, leaving: &BTreeSet<String>) {
        (self.disabled, self.ended) = (disabled, ended);
        let leaves = |child: &&Child| leaving.contains(&child.entry().number);
        self.leaving = known.iter().filter(leaves).map(|child| child.name.clone()).collect();
        self.untouched.retain(|name| !self.leaving.contains(name));
    }

    /// Whether `digest` agrees to exactly this.
    pub(super) fn agreed(&self, digest: Option<&str>) -> Result<bool, ApiError> {
        let Some(digest) = digest else { return Ok(false) };
        if let Some(needs) = &self.needs {
            return Err(ApiError::Invalid(vec![FieldError::new("file", needs)]));
        }
        if digest != self.digest {
            return Err(ApiError::Conflict(
                "The roster or the file changed since you looked. Look at the preview again; nothing was stored.",
            ));
        }
        Ok(true)
    }
}

pub(super) fn too_many(children: usize) -> Option<String> {
    (children > MAX_CHILDREN).then(|| {
        format!(
            "The class would have {children} children; {MAX_CHILDREN} is the most. Choose the groups that belong to it, or export fewer rows."
        )
    })
}

pub(super) fn view(plan: &ImportPlan, known: &[Child], rows: &[RosterRow]) -> Preview {
    let by_id: BTreeMap<ChildId, &Child> = known.iter().map(|child| (child.id, child)).collect();
    let count = |is: fn(&RowAction) -> bool| plan.rows.iter().filter(|(_, action)| is(action)).count();
    let untouched = plan.untouched.iter().filter_map(|id| by_id.get(id)).map(|child| child.name.clone());
    Preview {
        columns: Vec::new(),
        letters: Vec::new(),
        groups: Vec::new(),
        needs: None,
        rows: plan.rows.iter().zip(rows).map(|((line, action), row)| row_view(*line, action, row, &by_id)).collect(),
        new: count(|action| matches!(action, RowAction::New(_))),
        changed: count(|action| matches!(action, RowAction::Changed { .. })),
        same: count(|action| matches!(action, RowAction::Same(_))),
        refused: count(|action| matches!(action, RowAction::Refused(_))),
        untouched: untouched.collect(),
        leaving: Vec::new(),
        disabled: 0,
        ended: 0,
        digest: digest(&format!("{plan:?}")),
        import: None,
    }
}

fn row_view(line: usize, action: &RowAction, row: &RosterRow, by_id: &BTreeMap<ChildId, &Child>) -> RowView {
    let of = |action, name: &str, instrument| RowView {
        line,
        name: name.to_owned(),
        action,
        instrument,
        reason: None,
        changes: Vec::new(),
    };
    match action {
        RowAction::New(entry) => of(RowOutcome::New, &entry.name, Some(entry.instrument)),
        RowAction::Changed { id, entry, fields } => RowView {
            changes: by_id.get(id).map(|child| changes(&child.entry(), entry, fields)).unwrap_or_default(),
            ..of(RowOutcome::Changed, &entry.name, Some(entry.instrument))
        },
        RowAction::Same(id) => {
            let child = by_id.get(id);
            let name = child.map(|child| child.name.as_str()).unwrap_or_default();
            of(RowOutcome::Same, name, child.map(|child| child.playing.now))
        }
        RowAction::Refused(reason) => {
            let (given, family) = row.name.split();
            let name: String = names::short_name(&given, &family, 1).chars().take(60).collect();
            RowView { reason: Some(reason.clone()), ..of(RowOutcome::Refused, &name, None) }
        }
    }
}

fn changes(before: &RosterEntry, after: &RosterEntry, fields: &[RosterField]) -> Vec<RosterChange> {
    let text = |from: &str, to: &str| FromTo { from: from.to_owned(), to: to.to_owned() };
    let change = |field: &RosterField| match field {
        RosterField::Name => RosterChange::Name(text(&before.name, &after.name)),
        RosterField::Instrument => RosterChange::Instrument(FromTo { from: before.instrument, to: after.instrument }),
        RosterField::Grade => RosterChange::Grade(text(&before.grade, &after.grade)),
        RosterField::Number => RosterChange::Number(text(&before.number, &after.number)),
        RosterField::NearFront => RosterChange::NearFront(FromTo { from: before.near_front, to: after.near_front }),
        RosterField::NearAisle => RosterChange::NearAisle(FromTo { from: before.near_aisle, to: after.near_aisle }),
    };
    fields.iter().map(change).collect()
}
