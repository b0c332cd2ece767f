//! How the store reads a class's checklist when it computes how children stand, and how long that took.

use std::sync::Arc;
use std::time::Duration;

use bright_row_core::ClassId;
use bright_row_core::craft::checklist::Checklist;
use bright_row_store::classes::Class;
use bright_row_store::observations::renewing::Checklists;

use crate::state::App;
use crate::telemetry::metrics;

impl Checklists for App {
    fn of_class(&self, class: &Class) -> Arc<Checklist> {
        self.checklist(class)
    }

    fn read_before(&self, class: ClassId) -> Option<Arc<Class>> {
        self.kept_classes.get(&class)
    }

    fn took(&self, time: Duration) {
        metrics::rule_took("standings", time);
    }
}
