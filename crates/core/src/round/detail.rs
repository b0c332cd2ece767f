//! What an event of a round says beside children. Nothing but numbers and ids: no name of anybody can be kept in it.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};
use serde_json::{Map, Value};
use serde_with::skip_serializing_none;

use crate::craft::instrument::Instrument;
use crate::craft::strand::Strand;

/// A look from afar: what is looked at, and in which row or section.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct ScanKey {
    /// A checkpoint or a stage.
    pub target: String,
    /// `row-2`, `cello`.
    pub part: String,
}

/// What the kind of an event needs. Whatever else a device sends is left out.
#[skip_serializing_none]
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase", from = "Map<String, Value>")]
pub struct RoundDetail {
    /// Of a plan: for how many minutes.
    pub minutes: Option<u32>,
    /// Of a plan or a look from afar: a row or a section, `row-2`, `cello`.
    pub part: Option<String>,
    /// Of a plan: one strand.
    pub strand: Option<Strand>,
    /// Of a plan: looks from afar that were agreed to.
    pub scans: Option<Vec<ScanKey>>,
    /// Of a look from afar: a checkpoint or a stage.
    pub target: Option<String>,
    /// Of a visit: the levels that stood there before, by checkpoint.
    pub before: Option<BTreeMap<String, u8>>,
}

/// The most looks from afar, and the most levels, that a detail holds.
const MOST: usize = 200;

/// Whether a text has the shape of a checkpoint's or a stage's id, `hold.tall`.
#[must_use]
pub fn is_target(text: &str) -> bool {
    let plain = |c: char| c.is_alphanumeric() || c == '-' || c == '_';
    text.chars().count() <= 60
        && text.split_once('.').is_some_and(|(strand, rest)| {
            !strand.is_empty()
                && strand.chars().all(|c| c.is_ascii_lowercase())
                && !rest.is_empty()
                && rest.chars().all(plain)
        })
}

/// Whether a text is a row or a section: `row-2`, `cello`.
fn is_part(text: &str) -> bool {
    let row = text.strip_prefix("row-").and_then(|number| number.parse::<u8>().ok());
    row.is_some() || Instrument::ALL.iter().any(|instrument| instrument.name() == text)
}

/// A value, if there is one and it is of its kind.
fn read<T: serde::de::DeserializeOwned>(value: Option<Value>) -> Option<T> {
    serde_json::from_value(value?).ok()
}

impl From<Map<String, Value>> for RoundDetail {
    fn from(mut said: Map<String, Value>) -> Self {
        let mut take = |name: &str| said.remove(name);
        let scans = read::<Vec<ScanKey>>(take("scans"));
        let before = read::<BTreeMap<String, u8>>(take("before"));
        Self {
            minutes: read(take("minutes")),
            part: read::<String>(take("part")).filter(|part| is_part(part)),
            strand: read(take("strand")),
            scans: scans.map(|scans| {
                scans.into_iter().filter(|scan| is_target(&scan.target) && is_part(&scan.part)).take(MOST).collect()
            }),
            target: read::<String>(take("target")).filter(|target| is_target(target)),
            before: before.map(|before| before.into_iter().filter(|(id, _)| is_target(id)).take(MOST).collect()),
        }
    }
}

#[cfg(test)]
mod tests {
    use serde_json::json;

    use super::*;

    fn detail(value: Value) -> RoundDetail {
        serde_json::from_value(value).expect("any object is a detail")
    }

    #[test]
    fn what_the_pages_send_is_kept_and_nothing_else() {
        let said = json!({
            "minutes": 9, "part": "row-2", "strand": "bow", "scans": [{ "target": "hold.3", "part": "cello" }],
            "target": "bow.own-rosin-away", "before": { "hold.tall": 3 },
        });
        assert_eq!(serde_json::to_value(detail(said.clone())).expect("JSON"), said);
        let names = json!({
            "minutes": "nine", "name": "Ada K.", "part": "Ada", "strand": "Ada", "target": "Ada K.", "seconds": 540,
            "scans": [{ "target": "hold.3", "part": "Ada" }], "before": { "Ada K.": 3 }, "note": "of Ada",
        });
        assert_eq!(serde_json::to_value(detail(names)).expect("JSON"), json!({ "scans": [], "before": {} }));
        assert!(serde_json::from_value::<RoundDetail>(json!([])).is_err());
    }
}
