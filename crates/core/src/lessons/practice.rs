//! A week of practice at home: which blocks on which day, and for how many minutes.
//!
//! It **is** arithmetic: days, minutes and the blocks that are wanted in, days with blocks out. It **is not** the choice of what a
//! child works on, which comes from its next checks.

use std::collections::BTreeSet;

use serde::Serialize;

use crate::craft::home::BlockKind;

/// Minutes of a day from which every block has its turn; below, one rests each day.
pub const ALL_FROM: u32 = 6;
/// Minutes of a day from which one sings between two blocks in which fingers press, so that each may be as long as fingers allow.
pub const SING_FROM: u32 = 12;
/// Fingers press for so many minutes, then rest.
pub const STRETCH: u32 = 2;
/// And for so many in a day of the first month.
pub const FIRST_MONTH: u32 = 4;
/// The shortest time that can be asked for in a day, in minutes, and the longest.
pub const MINUTES: (u32, u32) = (3, 60);

/// A block of a day.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
#[serde(rename_all = "camelCase")]
pub struct Block {
    /// What one does.
    pub kind: BlockKind,
    /// For so long.
    pub minutes: u32,
}

/// Why there is no such week.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
pub enum NoWeek {
    /// No day, or more than a week has.
    #[error("a week has 1 to 7 days of practice")]
    Days,
    /// Outside of [`MINUTES`].
    #[error("a day has 3 to 60 minutes of practice")]
    Minutes,
}

/// The blocks of each day. Their minutes are those of the day, exactly; over the week each block that is wanted has its turn,
/// as often as any other within one, where the week is long enough for all. Fingers never press longer than [`STRETCH`] without a
/// rest, nor, in the first month, longer than [`FIRST_MONTH`] in a day: where they have to rest one sings, whether that is wanted or
/// not.
///
/// # Errors
/// [`NoWeek`] for days or minutes that cannot be.
pub fn week(
    days: u32,
    minutes: u32,
    wanted: &BTreeSet<BlockKind>,
    first_month: bool,
) -> Result<Vec<Vec<Block>>, NoWeek> {
    if !(1..=7).contains(&days) {
        return Err(NoWeek::Days);
    }
    if !(MINUTES.0..=MINUTES.1).contains(&minutes) {
        return Err(NoWeek::Minutes);
    }
    Ok((0..days).map(|day| shared(minutes, &kinds_of(day, minutes, wanted), first_month)).collect())
}

/// Which blocks a day has. What rests goes round, so that each rests as often as any other within one.
fn kinds_of(day: u32, minutes: u32, wanted: &BTreeSet<BlockKind>) -> BTreeSet<BlockKind> {
    let all: Vec<_> = wanted.iter().copied().filter(|kind| *kind != BlockKind::Sing).collect();
    let count = u32::try_from(all.len()).unwrap_or(u32::MAX);
    // A short day keeps a minute for singing, where fingers have to rest.
    let held = if minutes < ALL_FROM && count > 1 { (count - 1).min(minutes - 1) } else { count };
    let resting = count - held;
    let rests = |at: u32| (0..resting).any(|other| (day * resting + other) % count == at);
    let mut kinds: BTreeSet<_> = (0..).zip(all).filter(|(at, _)| !rests(*at)).map(|(_, kind)| kind).collect();
    let longest = stretches(kinds.iter().map(|kind| (*kind, 1))).max();
    let between = minutes >= SING_FROM && longest == Some(STRETCH);
    if kinds.iter().all(|kind| kind.presses()) || longest > Some(STRETCH) || between {
        kinds.insert(BlockKind::Sing);
    }
    kinds
}

/// Minutes in which fingers press without a rest, one after the other.
fn stretches(blocks: impl Iterator<Item = (BlockKind, u32)>) -> impl Iterator<Item = u32> {
    blocks.scan(0, |so_far, (kind, minutes)| {
        *so_far = if kind.presses() { *so_far + minutes } else { 0 };
        Some(*so_far)
    })
}

/// A day's minutes, shared as evenly as fingers allow.
fn shared(minutes: u32, kinds: &BTreeSet<BlockKind>, first_month: bool) -> Vec<Block> {
    let mut blocks: Vec<_> = kinds.iter().map(|kind| Block { kind: *kind, minutes: 1 }).collect();
    for _ in blocks.iter().map(|block| block.minutes).sum::<u32>()..minutes {
        let may = (0..blocks.len()).filter(|at| may_grow(&blocks, *at, first_month));
        // A block in which nothing presses always may.
        let Some(at) = may.min_by_key(|at| blocks[*at].minutes) else { break };
        blocks[at].minutes += 1;
    }
    blocks
}

/// Whether a block may take a minute more.
fn may_grow(blocks: &[Block], at: usize, first_month: bool) -> bool {
    if !blocks[at].kind.presses() {
        return true;
    }
    let grown = || (0..).zip(blocks).map(|(place, block)| (block.kind, block.minutes + u32::from(place == at)));
    let day: u32 = grown().filter(|(kind, _)| kind.presses()).map(|(_, minutes)| minutes).sum();
    stretches(grown()).all(|stretch| stretch <= STRETCH) && (!first_month || day <= FIRST_MONTH)
}
