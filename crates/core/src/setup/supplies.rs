//! What the class needs beside its instruments: tape, spots, supports, stops, stools, rosin, bows; and what to buy.

use std::collections::BTreeMap;

use crate::craft::instrument::{Instrument, InstrumentFacts};
use crate::number::tenths;

/// Tape that is cut and not used, as a share on top.
pub const WASTE: f64 = 0.15;
/// One spare set of markers a term for so many children.
pub const SPARE_SET_FOR: u32 = 8;
/// So many children share a cake of rosin (rosined about weekly, in turns).
pub const ROSIN_FOR: u32 = 4;

/// What supports a violin or viola, by the class's approach.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Support {
    /// A soft sponge.
    Sponge,
    /// A shoulder rest.
    ShoulderRest,
    /// Nothing.
    Bare,
}

/// One line of the list.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub enum Item {
    /// Tape from the roll, in metres.
    Tape,
    /// Strips cut for one instrument.
    Strips(Instrument),
    /// A felt spot for the thumb under a cello's or bass's neck.
    NeckSpots,
    /// Soft sponges for violins and violas.
    Sponges,
    /// Shoulder rests for violins and violas.
    ShoulderRests,
    /// Stops or straps that anchor a cello's pin.
    PinAnchors,
    /// Stools for basses.
    Stools,
    /// Rosin for violin, viola and cello bows.
    Rosin,
    /// Rosin for bass bows.
    BassRosin,
    /// Bows of one instrument.
    Bows(Instrument),
}

impl Item {
    /// Every item, in the order of the list.
    #[must_use]
    pub fn all() -> Vec<Self> {
        let mut all = vec![Self::Tape];
        all.extend(Instrument::ALL.map(Self::Strips));
        all.extend([Self::NeckSpots, Self::Sponges, Self::ShoulderRests, Self::PinAnchors, Self::Stools]);
        all.extend([Self::Rosin, Self::BassRosin]);
        all.extend(Instrument::ALL.map(Self::Bows));
        all
    }

    /// The key under which its stock is kept: `tape`, `strips-violin`.
    #[must_use]
    pub fn key(self) -> String {
        match self {
            Self::Tape => "tape".to_owned(),
            Self::Strips(instrument) => format!("strips-{}", instrument.name()),
            Self::NeckSpots => "neck-spots".to_owned(),
            Self::Sponges => "sponges".to_owned(),
            Self::ShoulderRests => "shoulder-rests".to_owned(),
            Self::PinAnchors => "pin-anchors".to_owned(),
            Self::Stools => "stools".to_owned(),
            Self::Rosin => "rosin".to_owned(),
            Self::BassRosin => "bass-rosin".to_owned(),
            Self::Bows(instrument) => format!("bows-{}", instrument.name()),
        }
    }

    /// The item of a key.
    #[must_use]
    pub fn parse(key: &str) -> Option<Self> {
        Self::all().into_iter().find(|item| item.key() == key)
    }
}

/// What a class needs of one item.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Line {
    /// Which.
    pub item: Item,
    /// How much the class needs; metres for tape, pieces for the rest.
    pub needed: f64,
    /// How much is there.
    pub in_store: f64,
    /// What is missing, never negative.
    pub to_buy: f64,
    /// The length of one strip, for strips.
    pub strip_mm: Option<u32>,
}

/// What a class of so many players of each instrument needs; items it needs none of are left out unless they are there.
///
/// `markers` are the strips that its set has on each instrument: none where they are dots, pencil or nothing.
/// `stock` is what is in store by item: counted, or for bows the instruments in the inventory that have one.
#[must_use]
pub fn supplies(
    facts: &BTreeMap<Instrument, InstrumentFacts>,
    players: &BTreeMap<Instrument, u32>,
    markers: &BTreeMap<Instrument, u32>,
    support: Support,
    stock: &BTreeMap<Item, f64>,
) -> Vec<Line> {
    let of = |instrument: Instrument| players.get(&instrument).copied().unwrap_or_default();
    let high = of(Instrument::Violin) + of(Instrument::Viola);
    let strips = |instrument: Instrument| {
        let markers = markers.get(&instrument).copied().unwrap_or_default();
        (of(instrument) + of(instrument).div_ceil(SPARE_SET_FOR)) * markers
    };
    let strip_mm = |instrument: Instrument| facts.get(&instrument).map_or(0, |facts| facts.strip_mm);
    let tape_mm: f64 = Instrument::ALL.map(|i| f64::from(strips(i) * strip_mm(i))).iter().sum();
    let needed = |item: Item| match item {
        Item::Tape => tenths(tape_mm * (1.0 + WASTE) / 1000.0),
        Item::Strips(instrument) => f64::from(strips(instrument)),
        Item::NeckSpots => f64::from(of(Instrument::Cello) + of(Instrument::Bass)),
        Item::Sponges => f64::from(if support == Support::Sponge { high } else { 0 }),
        Item::ShoulderRests => f64::from(if support == Support::ShoulderRest { high } else { 0 }),
        Item::PinAnchors => f64::from(of(Instrument::Cello)),
        Item::Stools => f64::from(of(Instrument::Bass)),
        Item::Rosin => f64::from((high + of(Instrument::Cello)).div_ceil(ROSIN_FOR)),
        Item::BassRosin => f64::from(of(Instrument::Bass).div_ceil(ROSIN_FOR)),
        Item::Bows(instrument) => f64::from(of(instrument)),
    };
    let line = |item: Item| {
        let (needed, in_store) = (needed(item), stock.get(&item).copied().unwrap_or_default());
        // Strips are cut from the tape that is bought.
        let cut = matches!(item, Item::Strips(_));
        let to_buy = if cut { 0.0 } else { tenths((needed - in_store).max(0.0)) };
        let strip_mm = if let Item::Strips(instrument) = item { Some(strip_mm(instrument)) } else { None };
        Line { item, needed, in_store, to_buy, strip_mm }
    };
    Item::all().into_iter().map(line).filter(|line| line.needed > 0.0 || line.in_store > 0.0).collect()
}
