//! Names and lists in sentences, as several pages word them.

use bright_row_core::craft::checklist::{Checklist, Need, Stage};

/// A checkpoint by its name; a stage by its strand and name. What the checklist no longer holds keeps its id.
pub(crate) fn target_name(checklist: &Checklist, id: &str) -> String {
    let checkpoint = checklist.checkpoint(id).map(|checkpoint| checkpoint.name.clone());
    checkpoint
        .or_else(|| checklist.stage(id).map(|stage| stage_name(checklist, stage)))
        .unwrap_or_else(|| id.to_owned())
}

fn stage_name(checklist: &Checklist, stage: &Stage) -> String {
    format!("{} {}, {}", checklist.strand_name(stage.strand), stage.number, stage.name)
}

pub(crate) fn need_name(checklist: &Checklist, need: &Need) -> String {
    match need {
        Need::Stage(id) => target_name(checklist, id.as_str()),
        Need::Checkpoint(id, _) => target_name(checklist, id.as_str()),
    }
}

/// With a small first letter, for the middle of a sentence.
pub(crate) fn lower(text: &str) -> String {
    let mut letters = text.chars();
    letters.next().map_or_else(String::new, |first| first.to_lowercase().chain(letters).collect())
}

/// One, two or more as a sentence lists them.
pub(crate) fn listed(names: &[String]) -> String {
    match names {
        [] => String::new(),
        [one] => one.clone(),
        [others @ .., last] => format!("{} and {last}", others.join(", ")),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_list_reads_as_a_sentence() {
        let names = ["one", "two", "three"].map(str::to_owned);
        assert_eq!(listed(&names[..0]), "");
        assert_eq!(listed(&names[..1]), "one");
        assert_eq!(listed(&names[..2]), "one and two");
        assert_eq!(listed(&names), "one, two and three");
        assert_eq!(lower("Thumb clamped"), "thumb clamped");
    }
}
