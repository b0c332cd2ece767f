//! `bright-row check-content`.

use std::path::Path;

use crate::content;
use crate::failure::Failure;

/// Checks a folder of content or a class's file, and prints every fault.
///
/// # Errors
/// [`Failure::Content`], [`Failure::Unreadable`].
pub fn run(path: &Path) -> Result<(), Failure> {
    let checked = if path.is_dir() {
        content::from_folder(path)?.map(|content| {
            let (checklist, symptoms) = (content.standard(), &content.symptoms);
            format!(
                "{} checkpoints, {} slips, {} choices, {} symptoms, {} causes",
                checklist.checkpoints().len(),
                checklist.slips().len(),
                content.approach.choices.len(),
                symptoms.symptoms.len(),
                symptoms.causes.len()
            )
        })
    } else {
        content::class_file(path)?.map(|class| {
            let edits = &class.edits;
            format!(
                "{} choices, {} checkpoints reworded, {} switched off, {} added",
                class.choices.len(),
                edits.reworded.len(),
                edits.off.len(),
                edits.own.len()
            )
        })
    };
    match checked {
        Ok(counted) => {
            println!("No fault: {counted}.");
            Ok(())
        }
        Err(faults) => {
            for fault in &faults {
                println!("{fault}");
            }
            Err(Failure::Content(faults.len()))
        }
    }
}
