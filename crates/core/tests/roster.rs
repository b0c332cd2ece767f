//! Importing a roster: names, actions, and the rule that the same file twice changes nothing.

use std::collections::BTreeSet;

use bright_row_core::ChildId;
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::setup::names::{FullName, instrument_of, short_name};
use bright_row_core::setup::roster::{ImportPlan, KnownChild, RosterEntry, RosterField, RowAction, plan};
use bright_row_core::setup::roster_row::RosterRow;
use proptest::prelude::*;
use uuid::Uuid;

fn row(line: usize, name: &str) -> RosterRow {
    RosterRow {
        own: None,
        line,
        name: FullName::Whole(name.to_owned()),
        instrument: Ok(Instrument::Viola),
        grade: None,
        number: None,
        near_front: None,
        near_aisle: None,
    }
}

fn with_number(line: usize, name: &str, number: &str) -> RosterRow {
    RosterRow { number: Some(number.to_owned()), ..row(line, name) }
}

fn known(number: u128, name: &str) -> KnownChild {
    let entry = RosterEntry {
        name: name.to_owned(),
        instrument: Instrument::Viola,
        grade: String::new(),
        number: String::new(),
        near_front: false,
        near_aisle: false,
    };
    KnownChild { id: ChildId::from(Uuid::from_u128(number)), entry }
}

/// The class after a plan was carried out.
fn carried_out(known: &[KnownChild], plan: &ImportPlan) -> Vec<KnownChild> {
    let mut after = known.to_vec();
    for (line, action) in &plan.rows {
        match action {
            RowAction::New(entry) => {
                let id = ChildId::from(Uuid::from_u128(1_000_000 + u128::try_from(*line).expect("small")));
                after.push(KnownChild { id, entry: entry.clone() });
            }
            RowAction::Changed { id, entry, .. } => {
                after.iter_mut().find(|child| child.id == *id).expect("known").entry = entry.clone();
            }
            RowAction::Same(_) | RowAction::Refused(_) => {}
        }
    }
    after
}

fn actions(plan: &ImportPlan) -> Vec<String> {
    let lines = |(line, action): &(usize, RowAction)| match action {
        RowAction::New(entry) => format!("{line} new {}", entry.name),
        RowAction::Changed { entry, fields, .. } => format!("{line} changed {} {fields:?}", entry.name),
        RowAction::Same(_) => format!("{line} same"),
        RowAction::Refused(reason) => format!("{line} refused: {reason}"),
    };
    plan.rows.iter().map(lines).collect()
}

#[test]
fn names_come_in_every_shape_and_leave_as_a_first_name_and_a_letter() {
    for (written, short) in [
        ("Ada King", "Ada K."),
        ("King, Ada", "Ada K."),
        ("  Mei-Lin   Chen ", "Mei-Lin C."),
        ("Ada K.", "Ada K."),
        ("Ada", "Ada"),
        ("de Souza, Ana Maria", "Ana Maria D."),
        ("Zoë Ångström", "Zoë Å."),
    ] {
        let (given, family) = FullName::Whole(written.to_owned()).split();
        assert_eq!(short_name(&given, &family, 1), short, "{written}");
    }
}

#[test]
fn children_whose_short_names_meet_get_as_many_letters_as_tell_them_apart() {
    let plan = plan(&[row(2, "Ada Brook"), row(3, "Ada Bell"), row(4, "Ben Otis")], &[], false);
    assert_eq!(actions(&plan), ["2 new Ada Br.", "3 new Ada Be.", "4 new Ben O."]);
}

#[test]
fn a_number_finds_the_child_again_whatever_its_name() {
    let mut child = known(1, "Ada K.");
    child.entry.number = "17".to_owned();
    let plan = plan(&[with_number(2, "Adele King", "17")], &[child], false);
    assert_eq!(actions(&plan), ["2 changed Adele K. [Name]"]);
}

#[test]
fn a_file_without_a_column_leaves_what_it_does_not_know_alone() {
    let mut child = known(1, "Ada K.");
    child.entry.grade = "5".to_owned();
    child.entry.near_front = true;
    assert_eq!(actions(&plan(&[row(2, "Ada King")], &[child], false)), ["2 same"]);
}

#[test]
fn what_cannot_be_read_is_refused_with_its_reason_and_the_rest_goes_on() {
    let tuba = RosterRow { instrument: Err("tuba".to_owned()), ..row(3, "Ben Otis") };
    let none = RosterRow { instrument: Err(String::new()), ..row(4, "Cy Pine") };
    let long = row(6, &"x".repeat(70));
    let rows = [row(2, "Ada King"), tuba, none, row(5, " "), long, row(7, "Ada King"), with_number(8, "Eve Ash", "9")];
    let twice = [&rows[..], &[with_number(9, "Flo Elm", "9")]].concat();
    insta::assert_snapshot!(actions(&plan(&twice, &[], false)).join("\n"), @r"
    2 new Ada K.
    3 refused: “tuba” is none of violin, viola, cello and bass.
    4 refused: There is no instrument in this row: violin, viola, cello or bass.
    5 refused: There is no name in this row.
    6 refused: The name is longer than 60 characters.
    7 refused: Ada K. stands in line 2 too: keep one, or give both a number.
    8 new Eve A.
    9 refused: The number 9 stands in line 8 too: keep one.
    ");
}

#[test]
fn two_children_of_one_name_with_a_number_each_are_two_children() {
    let rows = [with_number(2, "Ada King", "1"), with_number(3, "Ada King", "2")];
    let class = [known(1, "Ada K.")];
    let first = plan(&rows, &class, false);
    assert_eq!(actions(&first), ["2 changed Ada K. [Number]", "3 new Ada K."]);
    assert_eq!(actions(&plan(&rows, &carried_out(&class, &first), false)), ["2 same", "3 same"]);
}

#[test]
fn a_row_without_a_number_never_takes_the_child_of_another_row() {
    let mut numbered = known(1, "Ada K.");
    numbered.entry.number = "7".to_owned();
    let class = [numbered, known(2, "Ada K.")];
    let rows = [row(2, "Ada King"), with_number(3, "Ada King", "7")];
    assert_eq!(actions(&plan(&rows, &class, false)), ["2 same", "3 same"]);
    let lines = actions(&plan(&rows, &class[..1], false));
    assert_eq!(lines, ["2 refused: Ada K. stands in line 3 too: keep one, or give both a number.", "3 same"]);
    // Who gets another name by the number leaves the old one free.
    let renamed = [row(2, "Ada King"), with_number(3, "Bea Lane", "7")];
    assert_eq!(actions(&plan(&renamed, &class[..1], false)), ["2 new Ada K.", "3 changed Bea L. [Name]"]);
}

#[test]
fn a_change_says_what_changes_and_children_outside_the_file_stay() {
    let class = [known(1, "Ada K."), known(2, "Zed Q.")];
    let cello = RosterRow { instrument: Ok(Instrument::Cello), grade: Some("6".to_owned()), ..row(2, "Ada King") };
    let plan = plan(&[cello], &class, false);
    let RowAction::Changed { fields, .. } = &plan.rows[0].1 else { panic!("{plan:?}") };
    assert_eq!(fields, &[RosterField::Instrument, RosterField::Grade]);
    assert_eq!(plan.untouched, [class[1].id]);
}

#[test]
fn instruments_are_known_by_their_usual_words() {
    for (text, instrument) in [
        ("Violin", Instrument::Violin),
        ("VLA", Instrument::Viola),
        ("Violoncello", Instrument::Cello),
        ("Double Bass", Instrument::Bass),
        ("Grade 4 Beginning Cello (Tue)", Instrument::Cello),
    ] {
        assert_eq!(instrument_of(text), Some(instrument), "{text}");
    }
    assert_eq!(instrument_of("Recorder"), None);
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(1500))]

    #[test]
    fn the_same_file_over_its_own_result_changes_nothing(
        names in proptest::collection::vec(("[AB]a", "[AB][ab]?", proptest::option::of("[1-5]")), 0..14),
        keep in any::<bool>(),
        before in proptest::collection::vec(("[AB]a [AB]\\.", proptest::option::of("[1-5]")), 0..5),
    ) {
        let rows: Vec<RosterRow> = (2..)
            .zip(&names)
            .map(|(line, (given, family, number))| RosterRow { number: number.clone(), ..row(line, &format!("{given} {family}")) })
            .collect();
        let mut numbers = BTreeSet::new();
        let mut class: Vec<KnownChild> = Vec::new();
        for (at, (name, number)) in (1..).zip(&before) {
            let mut child = known(at, name);
            child.entry.number = number.clone().filter(|number| numbers.insert(number.clone())).unwrap_or_default();
            class.push(child);
        }
        let after = carried_out(&class, &plan(&rows, &class, keep));
        let again = plan(&rows, &after, keep);
        for (line, action) in &again.rows {
            prop_assert!(matches!(action, RowAction::Same(_) | RowAction::Refused(_)), "line {line}: {action:?}");
        }
    }
}

#[test]
fn our_own_file_is_always_the_same_children_whatever_they_are_called_and_in_whatever_order() {
    let names =
        ["Ali Be.", "Ali Bo.", "Nguyễn Thị Minh Khai", "Αθηνά Παπαδοπούλου", "محمد", "美咲", "Ada K.", "ada k."];
    let known: Vec<KnownChild> = (1_u128..)
        .zip(names)
        .map(|(number, name)| KnownChild {
            id: uuid::Uuid::from_u128(number).into(),
            entry: RosterEntry {
                name: name.to_owned(),
                instrument: Instrument::Viola,
                grade: String::new(),
                number: String::new(),
                near_front: false,
                near_aisle: false,
            },
        })
        .collect();
    let taken_out =
        |(line, child): (usize, &KnownChild)| RosterRow { own: Some(child.id), ..row(line, &child.entry.name) };
    let mut rows: Vec<RosterRow> = (2..).zip(&known).map(taken_out).collect();
    for turn in 0..rows.len() {
        rows.rotate_left(turn);
        for keep in [false, true] {
            let plan = plan(&rows, &known, keep);
            assert!(plan.rows.iter().all(|(_, action)| matches!(action, RowAction::Same(_))), "{:?}", plan.rows);
            assert_eq!(plan.untouched, Vec::<ChildId>::new());
        }
    }
    // The same child twice is said, and a name that was mended is a change of that child.
    let twice = [rows[0].clone(), RosterRow { line: 90, ..rows[0].clone() }];
    assert!(matches!(&plan(&twice, &known, true).rows[1].1, RowAction::Refused(_)));
    let mended = RosterRow { name: FullName::Whole("Alice Bell".to_owned()), own: Some(known[0].id), ..row(2, "x") };
    assert!(matches!(&plan(&[mended], &known, true).rows[0].1, RowAction::Changed { id, .. } if *id == known[0].id));
}
