//! Drills of a class's own, beside the shared ones: added, worded otherwise under the same id, switched off.

use crate::craft::checklist::Checklist;
use crate::craft::drills::{Drill, DrillFault, Lessons};
use crate::craft::edits::{Edits, OWN_PREFIX};

/// Own drills of a class, at most, with those that stand in the place of shared ones.
pub const MAX_OWN_DRILLS: usize = 40;

impl Edits {
    /// The drills of the class out of the shared ones: its own words in their place, its own drills after those of their
    /// strand, without what is switched off.
    #[must_use]
    pub fn lessons(&self, shared: Lessons) -> Lessons {
        let mut lessons = self.lessons_with_off(shared);
        lessons.drills.retain(|drill| !self.drills_off.contains(&drill.id));
        lessons
    }

    /// As [`Edits::lessons`], with what is switched off: for the page on which it is switched on again.
    #[must_use]
    pub fn lessons_with_off(&self, shared: Lessons) -> Lessons {
        let in_place = |drill: Drill| self.drills.get(&drill.id).cloned().unwrap_or(drill);
        let mut drills: Vec<Drill> = shared.drills.into_iter().map(in_place).collect();
        drills.extend(self.drills.values().filter(|drill| drill.is_own()).cloned());
        Lessons { drills, ..shared }
    }

    /// A new id for an own drill of this name: letters of the name, and letters more where it is taken.
    #[must_use]
    pub fn new_drill_id(&self, name: &str) -> String {
        let letters = name.chars().map(|c| if c.is_ascii_alphabetic() { c.to_ascii_lowercase() } else { '-' });
        let letters: String = letters.take(28).collect();
        let parts: Vec<&str> = letters.split('-').filter(|part| !part.is_empty()).collect();
        let word = if parts.is_empty() { "drill".to_owned() } else { parts.join("-") };
        let base = format!("{OWN_PREFIX}{word}");
        let more = (b'b'..=b'z').map(|letter| format!("{base}-{}", char::from(letter)));
        let free = std::iter::once(base.clone()).chain(more).find(|id| !self.drills.contains_key(id));
        free.unwrap_or_else(|| format!("{base}-{}", "z".repeat(self.drills.len().min(20) + 1)))
    }

    /// Everything of the drills that cannot be, each with the drill's id, against what ships.
    #[must_use]
    pub fn drill_faults(&self, checklist: &Checklist, shared: &Lessons) -> Vec<(String, DrillFault)> {
        let fault = |field: &'static str, message: String| DrillFault { step: None, field, message };
        let mut faults = Vec::new();
        let known = |id: &String| shared.drill(id).is_some() || self.drills.contains_key(id);
        for id in self.drills_off.iter().filter(|id| !known(id)) {
            let message = format!("there is no drill `{id}` to switch off");
            faults.push((id.clone(), fault("off", message)));
        }
        if let Some(id) = self.drills.keys().next_back().filter(|_| self.drills.len() > MAX_OWN_DRILLS) {
            let message = format!("a class has {MAX_OWN_DRILLS} drills of its own at most");
            faults.push((id.clone(), fault("name", message)));
        }
        for (id, drill) in &self.drills {
            let mut fault = |wrong: bool, field: &'static str, message: String| {
                if wrong {
                    faults.push((id.clone(), fault(field, message)));
                }
            };
            fault(*id != drill.id, "id", format!("the drill under `{id}` has the id `{}`", drill.id));
            let stray = !drill.is_own() && shared.drill(id).is_none();
            fault(stray, "id", format!("the id of an own drill begins with `{OWN_PREFIX}`"));
            let texts = drill.steps.iter().flat_map(|step| step.text.values());
            let braces = texts.chain([&drill.name, &drill.aim]).any(|text| text.contains(['{', '}']));
            fault(braces, "text", "plain text, without braces".to_owned());
            let conditional = (drill.with.is_some() || drill.prefer.is_some()) && drill.is_own();
            fault(conditional, "with", "an own drill is always there; switch it off instead".to_owned());
            faults.extend(drill.faults(checklist).into_iter().map(|fault| (id.clone(), fault)));
        }
        faults
    }
}
