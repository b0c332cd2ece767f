//! The checklists that are in use, each put together once: every request about a class asks for one, and it follows from
//! the content, the choices and the changes alone.

use std::sync::{Arc, Mutex, PoisonError};

use bright_row_core::craft::approach::Choices;
use bright_row_core::craft::checklist::Checklist;
use bright_row_core::craft::edits::Edits;
use bright_row_core::craft::loader::Content;

/// How many are kept; the one that was put together first goes first.
const MAX_KEPT_CHECKLISTS: usize = 64;

type StoredContext = (Choices, Edits, Arc<Checklist>);

/// Checklists by what they follow from.
#[derive(Clone, Debug, Default)]
pub struct ChecklistCache(Arc<Mutex<Vec<StoredContext>>>);

impl ChecklistCache {
    /// The checklist of somebody with these choices and changes.
    #[must_use]
    pub fn of(&self, content: &Content, choices: &Choices, edits: &Edits) -> Arc<Checklist> {
        // What is kept is whole or absent, also when a thread broke off: nothing is changed in place.
        let mut known = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some((.., checklist)) = known.iter().find(|(c, e, _)| c == choices && e == edits) {
            return Arc::clone(checklist);
        }
        let checklist = Arc::new(content.checklist(choices, edits));
        if known.len() >= MAX_KEPT_CHECKLISTS {
            known.remove(0);
        }
        known.push((choices.clone(), edits.clone(), Arc::clone(&checklist)));
        checklist
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn choosing(scroll: &str) -> Choices {
        [("scroll".to_owned(), scroll.to_owned())].into()
    }

    #[test]
    fn the_same_choices_and_changes_share_one_checklist_and_others_do_not() {
        let (content, checklists) = (crate::content::embedded(), ChecklistCache::default());
        let of = |scroll: &str| checklists.of(&content, &choosing(scroll), &Edits::default());
        let (left, again, nose) = (of("left"), of("left"), of("nose"));
        assert!(Arc::ptr_eq(&left, &again));
        assert_ne!(left, nose);
        assert_eq!(*nose, content.checklist(&choosing("nose"), &Edits::default()));
    }

    #[test]
    fn only_so_many_are_kept() {
        let (content, checklists) = (crate::content::embedded(), ChecklistCache::default());
        for number in 0..=MAX_KEPT_CHECKLISTS {
            let _ = checklists.of(&content, &choosing(&number.to_string()), &Edits::default());
        }
        assert_eq!(checklists.0.lock().expect("whole").len(), MAX_KEPT_CHECKLISTS);
    }
}
