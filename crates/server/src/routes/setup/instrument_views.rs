//! The store of instruments as the page shows it.

use std::collections::BTreeSet;

use bright_row_core::craft::instrument::Instrument;
use bright_row_core::day::Day;
use bright_row_core::setup::matching::Condition;
use bright_row_core::{AssetId, ChildId, ClassId};
use bright_row_store::instruments::assets::Asset;
use bright_row_store::instruments::loans::Loan;
use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};
use serde_with::skip_serializing_none;
use utoipa::ToSchema;

/// A child of a class that the one who asks may not open.
pub(super) const SOMEBODY: &str = "A child";

/// The program's instruments.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct Inventory {
    /// By tag.
    pub(super) assets: Vec<AssetView>,
    /// The sizes of each kind, largest first.
    pub(super) sizes: Vec<SizesView>,
}

/// The sizes of a kind.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct SizesView {
    pub(super) instrument: Instrument,
    /// Largest first.
    pub(super) sizes: Vec<SizeView>,
    /// The usual height of the strings over the fingerboard at the third finger.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub(super) string_height_mm: Option<f64>,
}

/// A size.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct SizeView {
    pub(super) name: String,
    /// The usual string length, until this very instrument is measured.
    pub(super) string_length_mm: f64,
}

/// What is kept of an instrument.
#[skip_serializing_none]
#[derive(Clone, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct AssetBody {
    /// The tag on it, one of its kind in the program.
    pub(crate) tag: String,
    pub(crate) instrument: Instrument,
    pub(crate) size: String,
    /// Nut to bridge, measured on this very instrument.
    pub(crate) string_length_mm: Option<f64>,
    /// How far the string is from the fingerboard at the third finger, 0.5 to 20 mm.
    pub(crate) string_height_mm: Option<f64>,
    pub(crate) condition: Condition,
    #[serde(default)]
    pub(crate) condition_note: String,
    /// Since when it is so; today where absent.
    pub(crate) condition_since: Option<Day>,
    pub(crate) bow: bool,
    /// A sponge or rest kept with it; empty for none.
    #[serde(default)]
    pub(crate) support: String,
    /// A stop or strap kept with it; empty for none.
    #[serde(default)]
    pub(crate) pin_anchor: String,
    pub(crate) case: bool,
}

/// An instrument.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct AssetView {
    pub(super) id: AssetId,
    #[serde(flatten)]
    pub(super) asset: AssetBody,
    /// The version of what is kept of it.
    pub(super) version: String,
    /// Who has it.
    pub(super) loan: Option<LoanView>,
}

/// Who has an instrument, or had it.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct LoanView {
    pub(super) child: ChildId,
    pub(super) name: String,
    pub(super) class_id: ClassId,
    pub(super) class_name: String,
    pub(super) since: DateTime<Utc>,
    pub(super) until: Option<DateTime<Utc>>,
    pub(super) locked: bool,
}

impl LoanView {
    /// A loan as somebody sees it who may open these classes: who is in another one has no name.
    pub(super) fn seen_by(loan: Loan, opens: &BTreeSet<ClassId>) -> Self {
        let Loan { child, name, class, class_name, since, until, locked, .. } = loan;
        let (name, class_name) =
            if opens.contains(&class) { (name, class_name) } else { (SOMEBODY.to_owned(), "another class".to_owned()) };
        Self { child, name, class_id: class, class_name, since, until, locked }
    }
}

impl From<Asset> for AssetBody {
    fn from(asset: Asset) -> Self {
        Self {
            tag: asset.tag,
            instrument: asset.instrument,
            size: asset.size,
            string_length_mm: asset.string_length_mm,
            string_height_mm: asset.string_height_mm,
            condition: asset.condition,
            condition_note: asset.condition_note,
            condition_since: Some(Day::near(asset.condition_since)),
            bow: asset.bow,
            support: asset.support,
            pin_anchor: asset.pin_anchor,
            case: asset.case,
        }
    }
}
