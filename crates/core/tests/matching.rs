//! Matching: the least cost, proved by trying every assignment of small cases.

mod support;

use std::collections::BTreeSet;

use bright_row_core::craft::instrument::Instrument;
use bright_row_core::setup::matching::{Asset, Condition, Match, Player, UNMATCHED, cost, match_class};
use bright_row_core::{AssetId, ChildId};
use proptest::prelude::*;
use uuid::Uuid;

const SIZES: [&str; 4] = ["4/4", "3/4", "1/2", "1/4"];

fn player(number: u128, size: &str) -> Player {
    Player {
        id: ChildId::from(Uuid::from_u128(number)),
        instrument: Instrument::Violin,
        size: Some(size.to_owned()),
        between: false,
        has: None,
        locked: false,
    }
}

fn asset(number: u128, size: &str) -> Asset {
    Asset {
        id: AssetId::from(Uuid::from_u128(number)),
        tag: format!("V-{number:02}"),
        instrument: Instrument::Violin,
        size: size.to_owned(),
        condition: Condition::Good,
        elsewhere: false,
    }
}

fn matched(players: &[Player], assets: &[Asset]) -> Match {
    match_class(&support::content().instruments, players, assets)
}

fn tags(found: &Match, assets: &[Asset]) -> Vec<String> {
    let tag = |id: AssetId| assets.iter().find(|asset| asset.id == id).expect("an instrument").tag.clone();
    found.pairs.iter().map(|pair| tag(pair.asset)).collect()
}

#[test]
fn the_size_that_fits_goes_before_condition_and_tag() {
    let mut worn = asset(1, "3/4");
    worn.condition = Condition::Fair;
    let assets = [worn, asset(2, "1/2"), asset(3, "3/4")];
    let found = matched(&[player(1, "3/4"), player(2, "1/2")], &assets);
    assert_eq!(tags(&found, &assets), ["V-03", "V-02"]);
    assert_eq!(found.cost, 0);
}

#[test]
fn a_child_keeps_what_it_has_when_another_would_be_no_better() {
    let mut has = player(1, "3/4");
    has.has = Some(AssetId::from(Uuid::from_u128(2)));
    let assets = [asset(1, "3/4"), asset(2, "3/4")];
    assert_eq!(tags(&matched(&[has], &assets), &assets), ["V-02"]);
}

#[test]
fn a_larger_size_is_given_only_between_sizes_and_repairs_never() {
    let assets = [asset(1, "3/4")];
    assert!(matched(&[player(1, "1/2")], &assets).pairs.is_empty());
    let mut between = player(1, "1/2");
    between.between = true;
    assert_eq!(matched(&[between.clone()], &assets).cost, 2);
    let mut broken = asset(1, "1/2");
    broken.condition = Condition::Repair;
    assert!(matched(&[between], &[broken]).pairs.is_empty());
}

#[test]
fn a_locked_pair_stays_whatever_it_costs() {
    let mut locked = player(2, "4/4");
    locked.has = Some(AssetId::from(Uuid::from_u128(1)));
    locked.locked = true;
    let assets = [asset(1, "1/4")];
    let found = matched(&[player(1, "1/4"), locked], &assets);
    assert_eq!((found.pairs.len(), found.without), (1, vec![ChildId::from(Uuid::from_u128(1))]));
}

#[test]
fn what_is_missing_becomes_an_order_list_and_the_unmeasured_are_not_counted() {
    let mut unknown = player(4, "1/2");
    unknown.size = None;
    let found = matched(&[player(1, "1/2"), player(2, "1/2"), player(3, "1/4"), unknown], &[asset(1, "1/4")]);
    let shortfall: Vec<(&str, usize)> = found.shortfall.iter().map(|s| (s.size.as_str(), s.count)).collect();
    // The one small instrument goes to whom it fits.
    assert_eq!(shortfall, [("1/2", 2)]);
    assert_eq!(found.without.len(), 3);
}

#[test]
fn among_equals_the_lower_tags_are_used_and_the_first_child_gets_the_lowest() {
    let assets = [asset(5, "1/2"), asset(2, "1/2"), asset(9, "1/2")];
    assert_eq!(tags(&matched(&[player(7, "1/2"), player(3, "1/2")], &assets), &assets), ["V-02", "V-05"]);
}

/// The least cost over every assignment, by trying them all.
fn exhaustive(players: &[Player], assets: &[Asset], sizes: &[&str], taken: &mut BTreeSet<AssetId>) -> i64 {
    let Some((player, rest)) = players.split_first() else { return 0 };
    let mut best = UNMATCHED + exhaustive(rest, assets, sizes, taken);
    for asset in assets {
        let Some((price, _)) = cost(player, asset, sizes) else { continue };
        if taken.insert(asset.id) {
            best = best.min(price + exhaustive(rest, assets, sizes, taken));
            taken.remove(&asset.id);
        }
    }
    best
}

fn any_player() -> impl Strategy<Value = (usize, bool, Option<u8>)> {
    (0..SIZES.len(), any::<bool>(), proptest::option::of(0..6_u8))
}

fn any_asset() -> impl Strategy<Value = (usize, u8)> {
    (0..SIZES.len(), 0..6_u8)
}

fn class(players: &[(usize, bool, Option<u8>)], assets: &[(usize, u8)]) -> (Vec<Player>, Vec<Asset>) {
    let store: Vec<Asset> = (1..)
        .zip(assets)
        .map(|(number, (size, condition))| Asset {
            condition: match condition {
                0 => Condition::Repair,
                1 | 2 => Condition::Fair,
                _ => Condition::Good,
            },
            ..asset(number, SIZES[*size])
        })
        .collect();
    let mut given = BTreeSet::new();
    let class = (1..)
        .zip(players)
        .map(|(number, (size, between, has))| {
            let has =
                has.and_then(|at| store.get(usize::from(at))).map(|asset| asset.id).filter(|id| given.insert(*id));
            Player { between: *between, has, ..player(number, SIZES[*size]) }
        })
        .collect();
    (class, store)
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(96))]

    #[test]
    fn no_assignment_costs_less_and_no_instrument_is_given_twice(
        players in proptest::collection::vec(any_player(), 0..6),
        assets in proptest::collection::vec(any_asset(), 0..6),
    ) {
        let (class, store) = class(&players, &assets);
        let found = matched(&class, &store);
        let content = support::content();
        let sizes: Vec<&str> =
            content.instruments[&Instrument::Violin].sizes.iter().map(|size| size.name.as_str()).collect();
        prop_assert_eq!(found.cost, exhaustive(&class, &store, &sizes, &mut BTreeSet::new()));
        let given: BTreeSet<AssetId> = found.pairs.iter().map(|pair| pair.asset).collect();
        prop_assert_eq!(given.len(), found.pairs.len());
        prop_assert_eq!(found.pairs.len() + found.without.len(), class.len());
    }

    #[test]
    fn one_more_instrument_never_costs_more(
        players in proptest::collection::vec(any_player(), 1..10),
        assets in proptest::collection::vec(any_asset(), 1..12),
    ) {
        let (class, store) = class(&players, &assets);
        prop_assert!(matched(&class, &store).cost <= matched(&class, &store[..store.len() - 1]).cost);
    }

    #[test]
    fn the_order_in_which_the_store_is_read_changes_nothing(
        players in proptest::collection::vec(any_player(), 0..8),
        assets in proptest::collection::vec(any_asset(), 0..10),
    ) {
        let (class, mut store) = class(&players, &assets);
        let found = matched(&class, &store);
        store.reverse();
        prop_assert_eq!(matched(&class, &store), found);
    }
}
