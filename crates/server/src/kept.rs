//! What was read last, so many of them: every request about a class begins with reading it, and it changes seldom.
//!
//! Nothing here is believed: whoever takes something from here asks the database whether it is still so (`settled` of a class,
//! `touched` of a child).

use std::collections::{BTreeMap, VecDeque};
use std::sync::{Arc, Mutex, PoisonError};

use bright_row_core::role::Role;
use bright_row_core::{AccountId, ChildId, ClassId, ProgramId};
use bright_row_store::StoreError;
use bright_row_store::classes::{self, Class};
use chrono::{DateTime, NaiveDate, Utc};
use serde_json::value::RawValue;
use uuid::Uuid;

use crate::turns::Turns;

/// So many classes are kept; the one that came first goes first.
pub const MAX_KEPT_CLASSES: usize = 1024;
/// So many rooms: one has some 35 kB.
pub const MAX_KEPT_ROOMS: usize = 512;
/// So many of those who record.
pub const MAX_KEPT_RECORDERS: usize = 4096;

#[derive(Debug)]
struct Inner<K, V> {
    values: BTreeMap<K, V>,
    /// The same, in the order in which they came.
    order: VecDeque<K>,
}

/// So many of something, by what they are of.
#[derive(Debug)]
pub struct Kept<const MOST: usize, K, V>(Arc<Mutex<Inner<K, V>>>);

impl<const MOST: usize, K, V> Clone for Kept<MOST, K, V> {
    fn clone(&self) -> Self {
        Self(Arc::clone(&self.0))
    }
}

impl<const MOST: usize, K, V> Default for Kept<MOST, K, V> {
    fn default() -> Self {
        Self(Arc::new(Mutex::new(Inner { values: BTreeMap::new(), order: VecDeque::new() })))
    }
}

impl<const MOST: usize, K: Clone + Ord, V: Clone> Kept<MOST, K, V> {
    /// What is kept of one.
    #[must_use]
    pub fn get(&self, key: &K) -> Option<V> {
        self.0.lock().unwrap_or_else(PoisonError::into_inner).values.get(key).cloned()
    }

    /// Keeps this of one, in place of what was.
    pub fn keep(&self, key: K, value: V) {
        let mut inner = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        if inner.values.insert(key.clone(), value).is_some() {
            return;
        }
        inner.order.push_back(key);
        if inner.order.len() > MOST
            && let Some(first) = inner.order.pop_front()
        {
            inner.values.remove(&first);
        }
    }
}

/// Classes.
pub type KeptClasses = Kept<MAX_KEPT_CLASSES, ClassId, Arc<Class>>;
/// Rooms.
pub type KeptRooms = Kept<MAX_KEPT_ROOMS, ClassId, KeptRoom>;
/// Those who record, by the hash of their session and the class.
pub type KeptRecorders = Kept<MAX_KEPT_RECORDERS, (Vec<u8>, ClassId), KeptRecorder>;

/// Who asks at the same time to be let into classes of a program, and what lets them in.
pub type Admissions = Turns<ProgramId, classes::Asks, Result<Option<classes::Admission>, StoreError>>;

/// Somebody who was let into a class to record.
#[derive(Clone, Copy, Debug)]
pub struct KeptRecorder {
    /// Who.
    pub account: AccountId,
    /// In which role.
    pub role: Role,
    /// Until when a substitute is let in.
    pub until: Option<DateTime<Utc>>,
    /// When that was asked.
    pub asked_at: DateTime<Utc>,
}

/// A child of a room as it is answered.
#[derive(Clone, Debug)]
pub struct KeptChild {
    /// Which.
    pub child: ChildId,
    /// See [`bright_row_store::classes::touched::by_child`].
    pub touched: Uuid,
    /// The child, written out.
    pub written: Arc<RawValue>,
}

/// The children of a room as they are answered, and what they follow from.
#[derive(Clone, Debug)]
pub struct KeptRoom {
    /// See [`Class::settled`].
    pub settled: Uuid,
    /// The day it was where the class meets: what is due follows from it.
    pub day: NaiveDate,
    /// The children, in the order in which they are answered.
    pub children: Arc<[KeptChild]>,
}

impl KeptRoom {
    /// Whether nothing was set since, so that only children who were touched are others now.
    #[must_use]
    pub fn is_set_as(&self, class: &Class, day: NaiveDate) -> bool {
        (self.settled, self.day) == (class.settled, day)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn only_so_many_are_kept_and_the_first_goes_first() {
        let kept = Kept::<5, u32, u32>::default();
        for number in 0..=5 {
            kept.keep(number, number);
            kept.keep(number, number + 1000);
        }
        assert_eq!((kept.get(&0), kept.get(&1), kept.get(&5)), (None, Some(1001), Some(1005)));
    }
}
