//! The store room of the invented school, the measures of its children, and who has which instrument.

use bright_row_store::instruments::loans;
use std::collections::BTreeMap;

use bright_row_core::craft::instrument::{Instrument, InstrumentFacts};
use bright_row_core::number::tens;
use bright_row_core::setup::matching::{self, Condition, Player};
use bright_row_core::setup::measures::Measures;
use bright_row_core::setup::sizing;
use bright_row_core::setup::supplies::Item;
use bright_row_core::{AssetId, ChildId};
use bright_row_store::accounts::Made;
use bright_row_store::children::Child;
use bright_row_store::children::measures;
use bright_row_store::classes::ClassKey;
use bright_row_store::instruments::assets::{self, Asset};
use bright_row_store::instruments::stock;
use bright_row_store::{ConnectionTrait, StoreError};
use chrono::{DateTime, Days, NaiveDate, Utc};
use rand::{Rng, RngExt};
use serde::Deserialize;

use super::id;

const TEXT: &str = include_str!("../../../../demo/store-room.toml");

#[derive(Deserialize)]
struct StoreRoom {
    instrument: Vec<Stored>,
}

#[derive(Deserialize)]
struct Stored {
    tag: String,
    kind: Instrument,
    size: String,
    length_mm: Option<f64>,
    height_mm: Option<f64>,
    #[serde(default)]
    condition: Option<String>,
    #[serde(default)]
    note: String,
    #[serde(default)]
    support: String,
    #[serde(default)]
    pin_anchor: String,
    #[serde(default = "there")]
    bow: bool,
    #[serde(default = "there")]
    case: bool,
}

const fn there() -> bool {
    true
}

/// Supplies that were counted, by item.
const STOCK: [(Item, f64); 6] = [
    (Item::Tape, 12.0),
    (Item::NeckSpots, 6.0),
    (Item::Sponges, 15.0),
    (Item::PinAnchors, 7.0),
    (Item::Stools, 4.0),
    (Item::Rosin, 9.0),
];
/// Every so-many-th child was measured at the try-out, before the first meeting; all others some days after it.
const TRY_OUT_EVERY: usize = 6;

fn read(chance: &mut impl Rng, now: DateTime<Utc>, since: NaiveDate) -> Vec<Asset> {
    let room: StoreRoom = toml::from_str(TEXT).expect("the demo's store room was checked by a test");
    let asset = |stored: Stored| Asset {
        id: AssetId::from(id(chance, now)),
        tag: stored.tag,
        instrument: stored.kind,
        size: stored.size,
        string_length_mm: stored.length_mm,
        string_height_mm: stored.height_mm,
        condition: stored.condition.as_deref().map_or(Condition::Good, |word| {
            Condition::parse(word).expect("the demo's store room was checked by a test")
        }),
        condition_note: stored.note,
        condition_since: since,
        bow: stored.bow,
        support: stored.support,
        pin_anchor: stored.pin_anchor,
        case: stored.case,
    };
    room.instrument.into_iter().map(asset).collect()
}

/// Fills the store room, measures the class and lends the instruments from the first meeting on; answers who has which.
pub(super) async fn set_up(
    db: &impl ConnectionTrait,
    key: ClassKey,
    facts: &BTreeMap<Instrument, InstrumentFacts>,
    children: &[Child],
    first: (NaiveDate, Made),
    chance: &mut impl Rng,
) -> Result<Vec<(ChildId, Asset)>, StoreError> {
    let (first_day, made) = first;
    let begins = made.at;
    let store = read(chance, begins, first_day);
    assets::keep(db, key.program, &store, made).await?;
    for (item, quantity) in STOCK {
        stock::set(db, key.program, item, quantity).await?;
    }
    let mut players = Vec::new();
    for (index, child) in children.iter().enumerate() {
        let measured = measure(child.playing.now, chance);
        let on = if index % TRY_OUT_EVERY == 0 { first_day - Days::new(8) } else { first_day + Days::new(4) };
        measures::add(db, key, child.id, id(chance, begins), on, &measured).await?;
        players.push(player(facts, child, &measured));
    }
    let found = matching::match_class(facts, &players, &matchable(&store));
    let pairs: Vec<(ChildId, Option<AssetId>)> =
        found.pairs.iter().map(|pair| (pair.child, Some(pair.asset))).collect();
    let another = another_first(&store, &pairs);
    let at_first = |pair: &(ChildId, Option<AssetId>)| match another {
        Some((child, other)) if child == pair.0 => (child, Some(other)),
        _ => *pair,
    };
    loans::lend(db, key.program, &pairs.iter().map(at_first).collect::<Vec<_>>(), begins).await?;
    // After the first meeting one of them has the size that fits.
    loans::lend(db, key.program, &pairs, begins + Days::new(1)).await?;
    let of = |id: AssetId| store.iter().find(|asset| asset.id == id).cloned();
    Ok(found.pairs.iter().filter_map(|pair| Some((pair.child, of(pair.asset)?))).collect())
}

/// A child who had another size at the first try, and which: the last one for whose instrument there is another to spare.
fn another_first(store: &[Asset], pairs: &[(ChildId, Option<AssetId>)]) -> Option<(ChildId, AssetId)> {
    let taken: Vec<AssetId> = pairs.iter().filter_map(|(_, asset)| *asset).collect();
    let other = |(child, asset): &(ChildId, Option<AssetId>)| {
        let has = store.iter().find(|one| Some(one.id) == *asset)?;
        let spare = |one: &&Asset| one.instrument == has.instrument && one.size != has.size && !taken.contains(&one.id);
        Some((*child, store.iter().find(spare)?.id))
    };
    pairs.iter().rev().find_map(other)
}

/// A child of 8 to 11 years, tall enough for what it plays.
fn measure(instrument: Instrument, chance: &mut impl Rng) -> Measures {
    let tall = match instrument {
        Instrument::Bass => 1380..1490,
        Instrument::Violin | Instrument::Viola | Instrument::Cello => 1300..1460,
    };
    let height = tens(f64::from(chance.random_range(tall)));
    let part = |share: f64, spread: i32, chance: &mut dyn FnMut(i32) -> i32| {
        (height * share).round() + f64::from(chance(spread))
    };
    let mut spread = |by: i32| chance.random_range(-by..=by);
    let arm = part(0.395, 12, &mut spread);
    let (span, knee) = (part(0.092, 6, &mut spread), part(0.265, 8, &mut spread));
    let high = matches!(instrument, Instrument::Violin | Instrument::Viola);
    Measures {
        arm_mm: high.then_some(arm),
        height_mm: Some(height),
        span_mm: (instrument == Instrument::Cello).then_some(span),
        knee_mm: (instrument == Instrument::Cello).then_some(knee),
        ..Measures::default()
    }
}

fn player(facts: &BTreeMap<Instrument, InstrumentFacts>, child: &Child, measures: &Measures) -> Player {
    let proposal = sizing::propose(&facts[&child.playing.now], measures).ok();
    Player {
        id: child.id,
        instrument: child.playing.now,
        between: proposal.as_ref().is_some_and(|proposal| proposal.between),
        size: proposal.and_then(|proposal| proposal.proposed),
        has: None,
        locked: false,
    }
}

fn matchable(store: &[Asset]) -> Vec<matching::Asset> {
    let plain = |asset: &Asset| matching::Asset {
        id: asset.id,
        tag: asset.tag.clone(),
        instrument: asset.instrument,
        size: asset.size.clone(),
        condition: asset.condition,
        elsewhere: false,
    };
    store.iter().map(plain).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use rand_chacha::ChaCha8Rng;
    use rand_chacha::rand_core::SeedableRng;

    #[test]
    fn the_store_room_holds_what_it_promises() {
        let content = crate::content::embedded();
        let store = read(&mut ChaCha8Rng::seed_from_u64(1), Utc::now(), Utc::now().date_naive());
        assert_eq!(store.len(), 52);
        for asset in &store {
            assert!(content.instruments[&asset.instrument].size(&asset.size).is_some(), "{}", asset.tag);
        }
        let unmeasured = store.iter().filter(|asset| asset.string_length_mm.is_none()).count();
        assert!((5..20).contains(&unmeasured), "{unmeasured}");
        let out = store.iter().filter(|asset| asset.condition == Condition::Repair).count();
        assert_eq!(out, 4);
    }
}
