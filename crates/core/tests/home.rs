//! What goes home: the blocks of a child's week, what it shows, and words that everybody at home can read.

mod support;

use std::collections::BTreeSet;

use bright_row_core::craft::approach::Choices;
use bright_row_core::craft::edits::Edits;
use bright_row_core::craft::home::{BlockKind, HomePhrase, HomeSheet};
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::craft::loader::Content;
use bright_row_core::lessons::home::{AtHome, HomeSettings, HomeWeek, Sitting};
use bright_row_core::lessons::practice::NoWeek;
use bright_row_core::progress::context::ChildContext;
use bright_row_core::progress::next::Order;
use chrono::NaiveDate;
use proptest::prelude::*;
use support::story::{Child, lines};
use support::{checklist, content};

/// A Monday.
const MONDAY: NaiveDate = NaiveDate::from_ymd_opt(2026, 11, 30).expect("a day");
/// Somebody who is at home in everything that the week needs.
const FAR: &str = "hold.1=3 hold.2=3 hold.3=3 hold.4=3 hold.5=3 bow.1=3 bow.2=3 bow.3=3 frame.1=3 frame.2=3 frame.3=3";

/// Hands what a child of this story does at home to `look`.
fn at_home<T>(
    (content, edits): (&Content, &Edits),
    (instrument, story): (Instrument, &str),
    settings: &HomeSettings,
    look: impl FnOnce(&HomeWeek<'_>) -> T,
) -> T {
    let checklist = checklist();
    let (observations, context) = lines(story);
    let child = Child::new(&checklist, instrument, context, &observations, 5);
    let home = AtHome {
        pupil: child.pupil(&checklist, content),
        joined_on: NaiveDate::from_ymd_opt(2026, 9, 1).expect("a day"),
        order: Order::SideBySide,
        at_once: 3,
    };
    let lessons = content.lessons(&Choices::new(), edits);
    look(&home.week(MONDAY, settings, (&content.home, &lessons)).expect("a week"))
}

fn blocks(instrument: Instrument, story: &str) -> String {
    let content = content();
    at_home((&content, &Edits::default()), (instrument, story), &HomeSettings::default(), |week| {
        let after =
            |kind: &BlockKind| week.exercises[kind].after.as_ref().map_or("", |after| after.as_str()).to_owned();
        let word = |kind: &BlockKind| format!("{} {}", kind.word(), after(kind)).trim().to_owned();
        week.exercises.keys().map(word).collect::<Vec<_>>().join(", ")
    })
}

fn shown(instrument: Instrument, story: &str) -> Vec<String> {
    let content = content();
    at_home((&content, &Edits::default()), (instrument, story), &HomeSettings::default(), |week| {
        week.shown.iter().map(|id| id.as_str().to_owned()).collect()
    })
}

#[test]
fn what_is_done_at_home_grows_with_what_was_passed() {
    assert_eq!(blocks(Instrument::Violin, ""), "bow-shape, finger-strength, open-strings, sing");
    let bow = "hold.1=3 hold.2=3 hold.3=3 bow.1=3 bow.2=2";
    assert_eq!(blocks(Instrument::Cello, bow), "bow-shape bow.2, finger-strength, open-strings, sing");
    let all =
        "bow-shape bow.3, finger-strength frame.2, open-strings bow.3, left-hand-notes frame.2, sing, tune frame.3";
    for instrument in Instrument::ALL {
        assert_eq!(blocks(instrument, FAR), all);
    }
}

#[test]
fn what_is_sore_rests() {
    let pain = |target: &str| blocks(Instrument::Viola, &format!("{FAR} pain:{target}"));
    assert_eq!(pain("hold.tall"), "sing");
    assert_eq!(pain("bow.thumb"), "finger-strength frame.2, left-hand-notes frame.2, sing, tune frame.3");
    assert_eq!(pain("frame.thumb"), "bow-shape bow.3, open-strings bow.3, sing");
    assert_eq!(pain("frame.2"), pain("frame.thumb"));
    assert_eq!(shown(Instrument::Viola, "pain:hold.tall"), [""; 0], "who only sings shows no hand either");
    let at_bow = shown(Instrument::Viola, &format!("{FAR} bow.stroke=1 pain:bow.thumb"));
    assert!(at_bow.iter().all(|id| !id.starts_with("bow.")), "{at_bow:?}");
}

#[test]
fn a_child_shows_what_comes_next_but_no_tapes() {
    let first = shown(Instrument::Violin, "");
    assert_eq!(first, ["hold.seat", "bow.pluck", "bow.shape"], "size and support are the school's");
    let thumb = shown(Instrument::Violin, "@5 hold.1=3 hold.2=3 hold.3=3 bow.1=3 bow.thumb=1");
    assert!(thumb.contains(&"bow.thumb".to_owned()), "{thumb:?}");
    assert!(!shown(Instrument::Violin, FAR).iter().any(|id| id.starts_with("tape.")));
}

#[test]
fn a_drill_that_the_class_left_out_is_not_done_at_home() {
    let content = content();
    let without = Edits { drills_off: ["little-lifts".to_owned(), "pluck-open".to_owned()].into(), ..Edits::default() };
    let story = "hold.1=3 bow.1=3 bow.2=3";
    at_home((&content, &without), (Instrument::Violin, story), &HomeSettings::default(), |week| {
        assert_eq!(week.exercises[&BlockKind::BowShape].after, None, "the one before it");
        assert!(!week.exercises.contains_key(&BlockKind::OpenStrings));
    });
}

#[test]
fn the_days_are_those_that_were_chosen_and_taps_are_counted() {
    let content = content();
    let settings = HomeSettings { days: [2, 4, 7].into(), minutes: 9, taps: 15, sitting: Sitting::Moments };
    at_home((&content, &Edits::default()), (Instrument::Bass, FAR), &settings, |week| {
        let dates: Vec<_> = week.days.iter().map(|day| day.date.to_string()).collect();
        assert_eq!(dates, ["2026-12-01", "2026-12-03", "2026-12-06"]);
        for day in &week.days {
            assert_eq!(day.blocks.iter().map(|block| block.minutes).sum::<u32>(), 9);
            for block in &day.blocks {
                assert_eq!(block.count, (block.kind == BlockKind::FingerStrength).then_some(15));
                assert_eq!(block.presses, block.kind.presses());
                assert!(week.exercises.contains_key(&block.kind));
            }
        }
    });
}

#[test]
fn fingers_press_shorter_in_the_first_month() {
    let (content, checklist) = (content(), checklist());
    let (observations, context) = lines(FAR);
    let child = Child::new(&checklist, Instrument::Violin, context, &observations, 5);
    let pressed = |joined_on| {
        let pupil = child.pupil(&checklist, &content);
        let home = AtHome { pupil, joined_on, order: Order::BowFirst, at_once: 1 };
        let settings = HomeSettings { minutes: 30, ..HomeSettings::default() };
        let week = home.week(MONDAY, &settings, (&content.home, &content.lessons)).expect("a week");
        assert_eq!(week.shown.len(), 1);
        week.days[0].blocks.iter().filter(|block| block.presses).map(|block| block.minutes).sum::<u32>()
    };
    let weeks_before = |weeks: i64| MONDAY - chrono::TimeDelta::weeks(weeks);
    assert_eq!(pressed(weeks_before(3)), 4);
    assert!(pressed(weeks_before(4)) > 4);
    assert_eq!(pressed(NaiveDate::MAX), 4, "a day past all is no error");
}

#[test]
fn settings_that_cannot_be_are_said_field_by_field() {
    assert_eq!(HomeSettings::default().faults(), []);
    let fields = |settings: HomeSettings| settings.faults().into_iter().map(|(field, _)| field).collect::<Vec<_>>();
    let none = HomeSettings { days: BTreeSet::new(), minutes: 2, taps: 4, sitting: Sitting::One };
    assert_eq!(fields(none), ["days", "minutes", "taps"]);
    let much = HomeSettings { days: [0, 8].into(), minutes: 61, taps: 51, sitting: Sitting::One };
    assert_eq!(fields(much), ["days", "minutes", "taps"]);
    let (content, checklist) = (content(), checklist());
    let child = Child::new(&checklist, Instrument::Violin, ChildContext::default(), &[], 5);
    let pupil = child.pupil(&checklist, &content);
    let home = AtHome { pupil, joined_on: MONDAY, order: Order::SideBySide, at_once: 3 };
    let of = |settings: HomeSettings| home.week(MONDAY, &settings, (&content.home, &content.lessons)).map(|_| ());
    assert_eq!(of(HomeSettings { days: BTreeSet::new(), ..HomeSettings::default() }), Err(NoWeek::Days));
    assert_eq!(of(HomeSettings { minutes: 0, ..HomeSettings::default() }), Err(NoWeek::Minutes));
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(60))]
    /// Whoever the child is: nothing of a stage that it has not passed, nothing sore, nothing twice, and a sign for all it shows.
    #[test]
    fn nothing_comes_too_early(levels in proptest::collection::vec(0_u8..4, 13), sore in 0_usize..8, on in 0_usize..4) {
        const STAGES: [&str; 13] = [
            "hold.1", "hold.2", "hold.3", "hold.4", "hold.5", "bow.1", "bow.2", "bow.3", "bow.4", "frame.1", "frame.2", "frame.3", "frame.4",
        ];
        let looks = STAGES.iter().zip(&levels).filter(|(_, level)| **level > 0).map(|(stage, level)| format!("{stage}={level} "));
        let pain = ["pain:hold.tall", "pain:bow.little", "pain:frame.square"].get(sore).copied().unwrap_or("");
        let story = looks.collect::<String>() + pain;
        let (content, instrument) = (content(), Instrument::ALL[on]);
        let passed = |stage: &str| STAGES.iter().zip(&levels).any(|(one, level)| *one == stage && *level >= 2);
        at_home((&content, &Edits::default()), (instrument, &story), &HomeSettings::default(), |week| {
            for exercise in week.exercises.values() {
                assert!(exercise.after.as_ref().is_none_or(|after| passed(after.as_str())), "{exercise:?} after {story}");
                assert!(sore > 2 || sore != 2 || !exercise.block.presses());
            }
            let all: BTreeSet<_> = week.shown.iter().collect();
            assert!(all.len() == week.shown.len() && all.len() <= 3);
            for id in &week.shown {
                assert!(!content.home.not_at_home.contains(id));
                assert!(content.home.signs[id].contains_key(&instrument), "{id:?} says nothing to the {}", instrument.name());
            }
        });
    }
}

/// Every text of a card.
fn texts(content: &Content) -> Vec<String> {
    let exercises = content.home.exercises.iter().flat_map(|exercise| exercise.text.values());
    let signs = content.home.signs.values().flat_map(|sign| sign.values());
    let sheets = content.home.sheets.values().flat_map(|on| on.values());
    let sheets = sheets.map(|sheet| sheet.filled("Ada", Instrument::Violin, "one"));
    let sheets = sheets.flat_map(|sheet| [vec![sheet.title], sheet.lines, sheet.fields].concat());
    let phrases = HomePhrase::ALL.iter().map(|phrase| content.home.phrase(*phrase).to_owned());
    exercises.chain(signs).cloned().chain(phrases).chain(sheets).collect::<BTreeSet<_>>().into_iter().collect()
}

#[test]
fn a_sheet_names_who_and_what_and_fills_no_name_twice() {
    let content = content();
    let loan = &content.home.sheets[&HomeSheet::Loan][&Instrument::Cello];
    let filled = loan.filled("{tag} {", Instrument::Cello, "C-07");
    assert_eq!(filled.lines[0], "{tag} { takes this cello home. Its tag is C-07.");
    assert_eq!(filled.fields, loan.fields);
    for (kind, on) in &content.home.sheets {
        for (instrument, sheet) in on {
            let filled = sheet.filled("Ada", *instrument, "V-1");
            assert!(!filled.lines.join(" ").contains('{'), "{}", kind.word());
        }
    }
}

#[test]
fn a_nine_year_old_can_read_a_card() {
    let easy: BTreeSet<&str> =
        include_str!("cases/easy_words.txt").lines().filter(|line| !line.starts_with('#')).collect();
    let (mut words, mut sentences) = (0, 0);
    for text in texts(&content()) {
        for sentence in text.split_inclusive(['.', ':', '!', '?']).filter(|part| !part.trim().is_empty()) {
            let of_sentence: Vec<String> = sentence
                .split(|letter: char| !letter.is_alphabetic() && letter != '-')
                .filter(|word| !word.is_empty())
                .map(str::to_lowercase)
                .collect();
            assert!(of_sentence.len() <= 12, "{} words: {sentence}", of_sentence.len());
            for word in &of_sentence {
                assert!(easy.contains(word.as_str()), "`{word}` is not a word of the list: {text}");
            }
            words += of_sentence.len();
            sentences += 1;
        }
    }
    assert!(words < 10 * sentences, "{words} words in {sentences} sentences");
}
