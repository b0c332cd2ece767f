//! What was read last, so many of them: every request about a class begins with reading it, and it changes seldom.
//!
//! Nothing here is believed: whoever takes something from here asks the database whether it is still so (`settled` and `touched` of
//! a class).

use std::collections::{BTreeMap, VecDeque};
use std::sync::{Arc, Mutex, PoisonError};

use bright_row_core::ClassId;
use bright_row_store::classes::Class;
use chrono::NaiveDate;
use serde_json::value::RawValue;
use uuid::Uuid;

/// So many classes are kept; the one that came first goes first.
const MAX_KEPT_CLASSES: usize = 256;

#[derive(Debug)]
struct Inner<V> {
    values: BTreeMap<ClassId, V>,
    /// The same, in the order in which they came.
    order: VecDeque<ClassId>,
}

/// Something of each class.
#[derive(Clone, Debug)]
pub struct Kept<V>(Arc<Mutex<Inner<V>>>);

impl<V> Default for Kept<V> {
    fn default() -> Self {
        Self(Arc::new(Mutex::new(Inner { values: BTreeMap::new(), order: VecDeque::new() })))
    }
}

impl<V: Clone> Kept<V> {
    /// What is kept of a class.
    #[must_use]
    pub fn get(&self, class: ClassId) -> Option<V> {
        self.0.lock().unwrap_or_else(PoisonError::into_inner).values.get(&class).cloned()
    }

    /// Keeps this of a class, in place of what was.
    pub fn keep(&self, class: ClassId, value: V) {
        let mut inner = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        if inner.values.insert(class, value).is_some() {
            return;
        }
        inner.order.push_back(class);
        if inner.order.len() > MAX_KEPT_CLASSES
            && let Some(first) = inner.order.pop_front()
        {
            inner.values.remove(&first);
        }
    }
}

/// The children of a room as they are answered, and what they follow from.
#[derive(Clone, Debug)]
pub struct KeptRoom {
    /// See [`Class::settled`].
    pub settled: Uuid,
    /// See [`Class::touched`].
    pub touched: Uuid,
    /// The day it was where the class meets: what is due follows from it.
    pub day: NaiveDate,
    /// The children, written out.
    pub children: Arc<RawValue>,
}

impl KeptRoom {
    /// Whether it is what would be read now of a class that was read now.
    #[must_use]
    pub fn is_of(&self, class: &Class, day: NaiveDate) -> bool {
        (self.settled, self.touched, self.day) == (class.settled, class.touched, day)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn only_so_many_are_kept_and_the_first_goes_first() {
        let kept = Kept::default();
        let class = |number: u64| ClassId::from(Uuid::from_u128(number.into()));
        let most = u64::try_from(MAX_KEPT_CLASSES).expect("a small number");
        for number in 0..=most {
            kept.keep(class(number), number);
            kept.keep(class(number), number + 1000);
        }
        assert_eq!((kept.get(class(0)), kept.get(class(1))), (None, Some(1001)));
        assert_eq!(kept.get(class(most)), Some(most + 1000));
    }
}
