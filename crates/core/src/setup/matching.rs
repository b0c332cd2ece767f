//! Children and the instruments in store, brought together at the least cost.
//!
//! The assignment is exact (Hungarian method) and one: among assignments of equal cost the one that uses the lower
//! asset tags, then the one that gives lower tags to children named first. Locked pairs stay.

use std::collections::{BTreeMap, BTreeSet};

use pathfinding::prelude::{Matrix, kuhn_munkres_min};
use serde::Serialize;

use crate::craft::instrument::{Instrument, InstrumentFacts};
use crate::worded::worded;
use crate::{AssetId, ChildId};

/// The proposed size itself.
pub const EXACT: i64 = 0;
/// One, two, three or more sizes smaller.
pub const SMALLER: [i64; 3] = [3, 8, 15];
/// One size larger, only when between sizes.
pub const LARGER_WHEN_BETWEEN: i64 = 2;
/// A fair condition.
pub const FAIR: i64 = 1;
/// The instrument the child has already.
pub const PRESENT: i64 = -1;
/// A child left without.
pub const UNMATCHED: i64 = 100;

/// The longest tag on an instrument, in characters.
pub const MAX_TAG_LENGTH: usize = 20;
/// The longest name of a size, in characters.
pub const MAX_SIZE_LENGTH: usize = 10;
/// The longest note on an instrument's condition, in characters.
pub const MAX_CONDITION_NOTE_LENGTH: usize = 200;
/// The longest words for a support or a pin's anchor, in characters.
pub const MAX_FITTING_LENGTH: usize = 40;

worded! {
    /// How an instrument is.
    Condition {
        /// Plays well.
        Good = "good",
        /// Plays.
        Fair = "fair",
        /// With the luthier, or waiting to go there.
        Repair = "repair",
    }
}

/// A child to be matched.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Player {
    /// Who.
    pub id: ChildId,
    /// What it plays.
    pub instrument: Instrument,
    /// The size that fits; `None` when nothing is measured, or nothing fits.
    pub size: Option<String>,
    /// Just below the next larger size.
    pub between: bool,
    /// The instrument it has.
    pub has: Option<AssetId>,
    /// The director keeps this pair whatever it costs.
    pub locked: bool,
}

/// An instrument in store or on loan.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Asset {
    /// Which.
    pub id: AssetId,
    /// The tag on it, one of its kind in the program.
    pub tag: String,
    /// Which kind.
    pub instrument: Instrument,
    /// Its size, one of its kind's.
    pub size: String,
    /// How it is.
    pub condition: Condition,
    /// Somebody outside the class has it.
    pub elsewhere: bool,
}

/// How far the size of a pair is from the proposed one, in sizes.
#[derive(Clone, Copy, Debug, PartialEq, Eq, serde::Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "kind", content = "sizes", rename_all = "camelCase")]
pub enum SizeGap {
    /// The proposed size.
    Exact,
    /// So many sizes smaller.
    Smaller(usize),
    /// One size larger, for a child between sizes.
    Larger,
    /// The child is not measured: kept with what it has.
    Unknown,
}

/// A child and its instrument.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Pair {
    /// Who.
    pub child: ChildId,
    /// Which.
    pub asset: AssetId,
    /// What this pair costs.
    pub cost: i64,
    /// How the size stands.
    pub gap: SizeGap,
    /// The condition is fair.
    pub fair: bool,
    /// The child has it already.
    pub present: bool,
    /// The director locked it.
    pub locked: bool,
}

/// A size that is missing, with how many.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Shortfall {
    /// Which kind.
    pub instrument: Instrument,
    /// Which size.
    pub size: String,
    /// How many.
    pub count: usize,
}

/// The class matched to the store.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Match {
    /// By the order in which the children came.
    pub pairs: Vec<Pair>,
    /// Children without an instrument, in their order.
    pub without: Vec<ChildId>,
    /// What to order, by kind and size, largest first.
    pub shortfall: Vec<Shortfall>,
    /// The sum over all children.
    pub cost: i64,
}

/// What this pair costs, or `None` if it must not be.
///
/// `sizes` are the names of that kind's sizes, largest first.
#[must_use]
pub fn cost(player: &Player, asset: &Asset, sizes: &[&str]) -> Option<(i64, SizeGap)> {
    if asset.instrument != player.instrument || asset.condition == Condition::Repair || asset.elsewhere {
        return None;
    }
    let place = |name: &str| sizes.iter().position(|size| *size == name);
    let has_it = player.has == Some(asset.id);
    let (base, gap) = match player.size.as_deref().and_then(place) {
        // Nobody knows what fits: only what the child has already can be kept.
        None if has_it && player.size.is_none() => (EXACT, SizeGap::Unknown),
        None => return None,
        Some(fits) => {
            let is = place(&asset.size)?;
            match (is.checked_sub(fits), fits.checked_sub(is)) {
                (Some(0), _) => (EXACT, SizeGap::Exact),
                (Some(smaller), _) => (SMALLER[smaller.min(SMALLER.len()) - 1], SizeGap::Smaller(smaller)),
                (None, Some(1)) if player.between => (LARGER_WHEN_BETWEEN, SizeGap::Larger),
                _ => return None,
            }
        }
    };
    let fair = if asset.condition == Condition::Fair { FAIR } else { 0 };
    Some((base + fair + if has_it { PRESENT } else { 0 }, gap))
}

/// Matches a class to the store.
///
/// A locked pair stays even if its size or condition speaks against it; it costs what it would cost, or nothing where
/// it would not be allowed.
#[must_use]
pub fn match_class(facts: &BTreeMap<Instrument, InstrumentFacts>, players: &[Player], assets: &[Asset]) -> Match {
    let mut pairs: BTreeMap<ChildId, Pair> = BTreeMap::new();
    for instrument in Instrument::ALL {
        let sizes = sizes_of(facts, instrument);
        let group: Vec<&Player> = players.iter().filter(|player| player.instrument == instrument).collect();
        let mut store: Vec<&Asset> = assets.iter().filter(|asset| asset.instrument == instrument).collect();
        store.sort_by(|a, b| (&a.tag, a.id).cmp(&(&b.tag, b.id)));
        let (locked, free): (Vec<&Player>, Vec<&Player>) =
            group.into_iter().partition(|player| player.locked && player.has.is_some());
        for player in locked {
            if let Some(asset) = store.iter().find(|asset| Some(asset.id) == player.has) {
                let priced = cost(player, asset, &sizes).unwrap_or((EXACT, SizeGap::Unknown));
                pairs.insert(player.id, pair(player, asset, priced));
            }
        }
        let taken: BTreeSet<AssetId> = pairs.values().map(|pair| pair.asset).collect();
        store.retain(|asset| !taken.contains(&asset.id));
        let free: Vec<&Player> = free.into_iter().filter(|player| !pairs.contains_key(&player.id)).collect();
        for (player, asset, priced) in assign(&free, &store, &sizes) {
            pairs.insert(player.id, pair(player, asset, priced));
        }
    }
    let without: Vec<&Player> = players.iter().filter(|player| !pairs.contains_key(&player.id)).collect();
    let unmatched = i64::try_from(without.len()).expect("a class is small") * UNMATCHED;
    Match {
        cost: pairs.values().map(|pair| pair.cost).sum::<i64>() + unmatched,
        shortfall: shortfall(facts, &without),
        without: without.iter().map(|player| player.id).collect(),
        pairs: players.iter().filter_map(|player| pairs.remove(&player.id)).collect(),
    }
}

fn sizes_of(facts: &BTreeMap<Instrument, InstrumentFacts>, instrument: Instrument) -> Vec<&str> {
    facts.get(&instrument).map_or_else(Vec::new, |facts| facts.sizes.iter().map(|size| size.name.as_str()).collect())
}

fn pair(player: &Player, asset: &Asset, (cost, gap): (i64, SizeGap)) -> Pair {
    Pair {
        child: player.id,
        asset: asset.id,
        cost,
        gap,
        fair: asset.condition == Condition::Fair,
        present: player.has == Some(asset.id),
        locked: player.locked,
    }
}

/// A pair with what it costs.
type Priced<'a> = (&'a Player, &'a Asset, (i64, SizeGap));

/// The least cost assignment of one kind; `store` is sorted by tag.
fn assign<'a>(group: &[&'a Player], store: &[&'a Asset], sizes: &[&str]) -> Vec<Priced<'a>> {
    if group.is_empty() || store.is_empty() {
        return Vec::new();
    }
    // Three weights in one number, each step far above the sum of the next: cost, tags, who gets which tag.
    let count = i64::try_from(group.len() + store.len()).expect("a store is small") + 1;
    let by_tag = count.pow(3);
    let by_cost = count.pow(5);
    let columns = store.len() + group.len();
    let index = |at: usize| i64::try_from(at).expect("a store is small");
    let weight = |row: usize, column: usize| {
        // Rank times rank: the first children get the lowest tags, the last go without (rearrangement inequality).
        let turn = index(group.len() - row) * index(column.min(store.len()));
        let Some(asset) = store.get(column) else { return UNMATCHED * by_cost + turn };
        match cost(group[row], asset, sizes) {
            Some((cost, _)) => cost * by_cost + index(column) * by_tag + turn,
            None => 2 * UNMATCHED * by_cost,
        }
    };
    let weights = Matrix::from_fn(group.len(), columns, |(row, column)| weight(row, column));
    let (_, chosen) = kuhn_munkres_min(&weights);
    let found = group.iter().zip(chosen).filter_map(|(player, column)| {
        let asset = store.get(column)?;
        Some((*player, *asset, cost(player, asset, sizes)?))
    });
    found.collect()
}

/// What to order for those without: their size, largest first; children whom nothing fits are not counted.
fn shortfall(facts: &BTreeMap<Instrument, InstrumentFacts>, without: &[&Player]) -> Vec<Shortfall> {
    let mut missing = Vec::new();
    for instrument in Instrument::ALL {
        for size in sizes_of(facts, instrument) {
            let count = without
                .iter()
                .filter(|player| player.instrument == instrument && player.size.as_deref() == Some(size))
                .count();
            if count > 0 {
                missing.push(Shortfall { instrument, size: size.to_owned(), count });
            }
        }
    }
    missing
}
