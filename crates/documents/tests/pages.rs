//! Pages: what stands where, and that the PDF holds it.

mod support;

use bright_row_documents::family_card::{self, CardRow, CardThing, FamilyCard};
use bright_row_documents::family_sheet::{FamilySheet, page};
use bright_row_documents::fonts;
use bright_row_documents::labels::{Label, LabelSheet, sheets};
use bright_row_documents::list::{Column, pages};
use bright_row_documents::measure::{fitting, width, wrapped};
use bright_row_documents::pdf::{Drawing, Paper, pdf};
use bright_row_documents::seat_chart::{From, Taken, chart};
use bright_row_documents::standing::standing;

fn label(tag: &str) -> Label {
    Label {
        tag: tag.to_owned(),
        what: "cello 1/2".to_owned(),
        address: "https://strings.example/class/1/set-up/instruments/2".to_owned(),
        owner: "Fernwick & Hollow <strings>".to_owned(),
    }
}

fn seat(row: u8, number: u8, name: &str) -> Taken {
    Taken { row, number, name: name.to_owned(), instrument: "violin".to_owned() }
}

/// Where a text begins, in millimetres.
fn place_of(drawing: &Drawing, text: &str) -> (f64, f64) {
    let svg = drawing.svg();
    let line = svg.lines().find(|line| line.contains(&format!(">{text}<"))).expect("the text");
    let number = |key: &str| {
        let (_, rest) = line.split_once(&format!(" {key}=\"")).expect("a place");
        rest.split('"').next().expect("a number").parse().expect("a number")
    };
    (number("x"), number("y"))
}

#[test]
fn as_many_tags_stand_on_a_sheet_as_the_paper_holds() {
    let many: Vec<Label> = (0..52).map(|number| label(&format!("C-{number:02}"))).collect();
    let per_sheet = |paper| sheets(&many, LabelSheet::Cut(paper), 0)[0].svg().matches("<rect").count();
    assert_eq!((per_sheet(Paper::A4), sheets(&many, LabelSheet::Cut(Paper::A4), 0).len()), (24, 3));
    assert_eq!((per_sheet(Paper::Letter), sheets(&many, LabelSheet::Cut(Paper::Letter), 0).len()), (24, 3));
}

#[test]
fn on_sheets_of_labels_each_tag_lies_on_its_label_and_used_ones_are_left_out() {
    for (sheet, many, (width, height), (across, left, top), step) in [
        (LabelSheet::TwentyFour, 24, (70.0, 37.0), (3, 0.0, 0.5), (70.0, 37.0)),
        (LabelSheet::TwentyOne, 21, (63.5, 38.1), (3, 7.2, 15.15), (66.05, 38.1)),
        (LabelSheet::Thirty, 30, (66.68, 25.4), (3, 4.76, 12.7), (69.85, 25.4)),
    ] {
        assert_eq!(sheet.many(), many);
        let tags: Vec<Label> = (0..many).map(|number| label(&format!("WWWWWWWWWWWWWWWWWW{number:02}"))).collect();
        let pages = sheets(&tags, sheet, 5);
        assert_eq!(pages.len(), 2);
        for (page, first) in pages.iter().zip([5, 0]) {
            assert_eq!(support::amiss(page), Vec::<String>::new(), "{sheet:?}");
            let all = standing(page).expect("it is drawn");
            let on = |place: u32| {
                let (x, y) = (left + f64::from(place % across) * step.0, top + f64::from(place / across) * step.1);
                let inside = |ink: [f64; 4]| ink[0] >= x && ink[1] >= y && ink[2] <= x + width && ink[3] <= y + height;
                all.iter().filter(|one| inside(one.ink)).count()
            };
            let places = u32::try_from(many).expect("a few");
            assert!((0..first).all(|used| on(used) == 0), "{sheet:?}");
            assert_eq!((0..places).map(on).sum::<usize>(), all.len(), "{sheet:?}: nothing stands between labels");
        }
    }
}

#[test]
fn a_tag_reads_like_this() {
    let svg = sheets(&[label("C-07")], LabelSheet::Cut(Paper::A4), 0)[0].svg();
    let texts: Vec<&str> = svg.lines().filter(|line| line.starts_with("<text")).collect();
    insta::assert_snapshot!(texts.join("\n"), @r#"
    <text x="17.00" y="32.50" font-size="8" font-weight="700" text-anchor="start">C-07</text>
    <text x="17.00" y="40.00" font-size="4.2" font-weight="400" text-anchor="start">cello 1/2</text>
    <text x="17.00" y="47.50" font-size="2.8" font-weight="400" text-anchor="start">Fernwick &amp; Hollow &lt;…</text>
    "#);
    assert!(svg.matches("<path").count() == 1 && svg.contains("z\"/>"), "the code is one shape");
}

#[test]
fn the_class_sees_the_room_turned_round() {
    let seats = [seat(1, 1, "Ada K."), seat(1, 2, "Ben O."), seat(2, 1, "Cy P.")];
    let podium = chart("Strings", &seats, From::Podium, Paper::A4);
    let class = chart("Strings", &seats, From::Class, Paper::A4);
    let (ada, ben, cy) = (place_of(&podium, "Ada K."), place_of(&podium, "Ben O."), place_of(&podium, "Cy P."));
    assert!(ada.0 < ben.0 && cy.1 < ada.1, "row 1 is the lowest, seat 1 the leftmost");
    assert!(place_of(&podium, "podium").1 > ada.1);
    let (ada, ben, cy) = (place_of(&class, "Ada K."), place_of(&class, "Ben O."), place_of(&class, "Cy P."));
    assert!(ada.0 > ben.0 && cy.1 > ada.1, "row 1 is the highest, seat 1 the rightmost");
    assert!(place_of(&class, "podium").1 < ada.1);
}

#[test]
fn a_long_list_goes_on_over_pages_that_are_numbered() {
    let columns = [
        Column { heading: "Item".to_owned(), share: 3.0, right: false },
        Column { heading: "To buy".to_owned(), share: 1.0, right: true },
    ];
    let rows: Vec<Vec<String>> = (0..80).map(|n| vec![format!("item {n}"), n.to_string()]).collect();
    let list = pages("Order list", "Fernwick", &columns, &rows, Paper::Letter);
    assert_eq!(list.len(), 3);
    assert!(list.iter().all(|page| page.svg().contains(">Item<")));
    assert!(list[2].svg().contains("page 3 of 3") && list[2].svg().contains("item 79"));
    assert_eq!(pages("Order list", "", &columns, &[], Paper::A4).len(), 1, "an empty list is a page too");
}

#[test]
fn a_pdf_has_a_page_a_drawing_at_true_size_with_the_font_in_it() {
    let seats = [seat(1, 1, "Zoë Å."), seat(1, 2, "Ewa Ł.")];
    let drawings = [
        chart("Strings", &seats, From::Podium, Paper::A4),
        sheets(&[label("C-07")], LabelSheet::Cut(Paper::Letter), 0).remove(0),
    ];
    let bytes = pdf(&drawings, "Strings").expect("a PDF");
    let text = String::from_utf8_lossy(&bytes);
    assert!(text.starts_with("%PDF-"));
    assert!(text.contains("/Count 2") && text.contains("/FontFile"), "two pages, fonts embedded");
    // A4 lying and Letter upright, in points.
    assert!(text.contains("[0 0 841.88") && text.contains("[0 0 612 792]"), "{}", &text[..600]);
}

#[test]
fn a_text_too_long_for_its_place_is_cut_with_an_ellipsis() {
    assert_eq!(fitting("Valentina Q.", 40.0, 4.0), "Valentina Q.");
    assert_eq!(fitting("Valentina Queiroz", 20.0, 4.0), "Valentin…");
}

/// A card with as much on it as there can be.
fn full_card(things: usize, rows: usize, name: &str) -> FamilyCard {
    let thing = CardThing {
        name: "Thumb bent, opposite the middle finger".to_owned(),
        cue: "Bumpy thumb, soft thumb, small as a pea".to_owned(),
        sign: "The thumb makes a bump like a small hill. It does not lie flat on the wood of the bow today.".to_owned(),
        figure: None,
    };
    let row = CardRow {
        text: "Make your bow hand on a pencil. Let go. Make it again and count to five slowly.".to_owned(),
        minutes: vec![Some(10); 7],
    };
    FamilyCard {
        heading: "At home this week".to_owned(),
        name: name.to_owned(),
        what: "violin, 30 Nov to 6 Dec".to_owned(),
        show: "Show this to a grown-up:".to_owned(),
        see: "You see:".to_owned(),
        things: vec![thing; things],
        week: "Tick each box when it is done".to_owned(),
        days: ["Mo", "Tu", "We", "Th", "Fr", "Sa", "Su"].map(str::to_owned).to_vec(),
        rows: vec![row; rows],
        foot: [
            "12 minutes a day. In short moments over the day.",
            "First sounds are small. That is fine. Sore tips pass. Pain does not: stop and tell us.",
            "After playing: loosen the bow, push the pin in, lay it on its side. Keep it away from heat and doors.",
            "We check the size again: 12 Jan.",
            "Bring this card back. The code is for us.",
        ]
        .map(str::to_owned)
        .to_vec(),
        code: "https://strings.example.school/card/0190a3c4-7b1e-7c3d-9f21-5b8f6f0e2d11".to_owned(),
        large: false,
    }
}

#[test]
fn nothing_on_a_card_falls_over_anything_else() {
    for paper in [Paper::A4, Paper::Letter] {
        for (things, rows, name) in [(3, 6, "Wilhelmina-Maximiliane"), (1, 1, "Wu"), (0, 1, "WWWWWWWWWWWWWWWWWWWWWWWW")]
        {
            let card = full_card(things, rows, name);
            assert_eq!(
                support::amiss(&family_card::draw(&card, paper)),
                Vec::<String>::new(),
                "{paper:?} {things} {rows}"
            );
            for large in [false, true] {
                for sheet in family_card::sheets(&vec![card.clone(); 2], paper, large) {
                    assert_eq!(
                        support::amiss(&sheet),
                        Vec::<String>::new(),
                        "{paper:?} {things} {rows}, large {large}"
                    );
                }
            }
        }
    }
}

#[test]
fn a_card_in_two_languages_has_room_for_both() {
    let own = [
        "عشر دقائق كل يوم، كلها مرة واحدة أو مع استراحة.",
        "Los primeros sonidos son pequeños. Está bien así, y las puntas de los dedos se acostumbran pronto.",
    ];
    for paper in [Paper::A4, Paper::Letter] {
        for (things, rows) in [(3, 6), (1, 4)] {
            let mut card = full_card(things, rows, "Жанна");
            card.heading = format!("{} / 今週の家での練習 / На этой неделе дома", card.heading);
            card.show = "Show this to a grown-up / Enséñale esto a una persona adulta de tu casa:".to_owned();
            card.see = "You see / Se ve:".to_owned();
            card.week = format!("{} / Marca cada casilla cuando esté hecho", card.week);
            card.foot = card.foot.iter().flat_map(|line| [line.clone(), own[line.len() % 2].to_owned()]).collect();
            let drawn = family_card::draw(&card, paper);
            assert_eq!(support::amiss(&drawn), Vec::<String>::new(), "{paper:?} {things} {rows}");
            let all: Vec<_> = standing(&drawn).expect("it is drawn");
            assert!(all.iter().all(|one| one.complete), "{all:?}");
            let said: String = all.into_iter().map(|one| one.text + " ").collect();
            // Everything is on it: the last words of each thing, and of the foot.
            assert_eq!(said.matches("small as a pea").count(), things, "{said}");
            assert!(said.contains("code is for us.") && said.contains("acostumbran pronto."), "{said}");
        }
    }
}

#[test]
fn nothing_on_a_sheet_or_a_tag_falls_over_anything_else() {
    let sheet = FamilySheet {
        school: "Wintergreen Unified School District, Wollstonecraft Middle School".to_owned(),
        title: "Borrowed from the school".to_owned(),
        about: "Wilhelmina-Maximiliane, violin 3/4, VIOLIN-0123456789-W".to_owned(),
        lines: vec!["It belongs to the school. The school's rules say what you pay when it is broken.".to_owned(); 8],
        fields: vec!["Name of a grown-up".to_owned(); 5],
    };
    for paper in [Paper::A4, Paper::Letter] {
        for large in [false, true] {
            assert_eq!(support::amiss(&page(&sheet, paper, large)), Vec::<String>::new(), "{paper:?} {large}");
        }
        for tag in ["C-07", "VIOLIN-0123456789-W", "WWWWWWWWWWWWWWWWWWWW"] {
            let drawn = sheets(&[label(tag), label(tag)], LabelSheet::Cut(paper), 0).remove(0);
            assert_eq!(support::amiss(&drawn), Vec::<String>::new(), "{tag}");
            let all: String = standing(&drawn).expect("it is drawn").into_iter().map(|one| one.text).collect();
            assert_eq!(all.matches(tag).count(), 2, "a tag is printed whole: {all}");
            // Three tags of 62 mm stand side by side; the code begins 36 mm from a tag's left edge.
            let code = (paper.size_mm().0 - 3.0 * 62.0) / 2.0 + 36.0;
            let first = |one: &&bright_row_documents::standing::Standing| one.ink[0] < code;
            assert!(standing(&drawn).expect("it is drawn").iter().filter(first).all(|one| one.ink[2] < code), "{tag}");
        }
    }
}

#[test]
fn lines_and_cut_texts_fit_by_the_font_whatever_their_letters() {
    for text in [
        "WWWWWWWWWWWWWWWWWWWW",
        "illi illi illi illi illi illi",
        "Ærø Ñandú Łukasz",
        "美咲 さくら",
        "a\u{301}a\u{301}a\u{301}",
    ] {
        for (mm, size) in [(10.0, 4.0), (30.0, 8.0), (2.0, 4.0)] {
            let lines = wrapped(text, mm, size);
            // One letter stands alone where it is wider than the line.
            assert!(lines.iter().all(|line| width(line, size) <= mm || line.chars().count() == 1), "{lines:?}");
            let letters = |text: &str| text.chars().filter(|letter| !letter.is_whitespace()).collect::<String>();
            assert_eq!(letters(&lines.concat()), letters(text));
            let cut = fitting(text, mm, size);
            assert!(width(&cut, size) <= mm || cut.chars().count() <= 2, "{cut} in {mm}");
        }
    }
}

/// First names in the scripts that rosters come in, composed.
const NAMES: [&str; 15] = [
    "Nguyễn",
    "Αθηνά",
    "Жанна",
    "محمد",
    "עדן",
    "美咲",
    "さくら",
    "지우",
    "晓彤",
    "अदिति",
    "অনন্যা",
    "ਹਰਪ੍ਰੀਤ",
    "மலர்",
    "ส้มโอ",
    "ሰላም",
];

#[test]
fn a_name_in_any_script_has_its_letters_is_measured_by_them_and_stays_in_its_place() {
    for name in NAMES {
        for bold in [false, true] {
            let mut page = Drawing::new((100.0, 20.0));
            page.text((10.0, 10.0), 5.0, "start", bold, name);
            let all = standing(&page).expect("it is drawn");
            assert!(all[0].complete && all[0].text == name, "{name}: {all:?}");
            let wide = all[0].ink[2] - all[0].ink[0];
            assert!(wide > 3.0 && wide <= width(name, 5.0) + 0.5, "{name}: {wide} mm");
            assert!(all[0].ink[0] > 9.0, "it begins where it should: {name} {all:?}");
        }
        let card = full_card(2, 3, name);
        assert_eq!(support::amiss(&family_card::draw(&card, Paper::A4)), Vec::<String>::new(), "{name}");
        let tags = sheets(&[Label { owner: format!("{name} {name}"), ..label("C-07") }], LabelSheet::Cut(Paper::A4), 0)
            .remove(0);
        assert_eq!(support::amiss(&tags), Vec::<String>::new(), "{name}");
        let bytes = pdf(&[tags], name).expect("a PDF");
        assert!(bytes.len() < 300_000, "only the letters that stand there are embedded: {} bytes", bytes.len());
    }
    assert!(fonts::file("NotoSansKR_400Regular.ttf").is_some_and(|font| font.len() > 1_000_000));
    assert!(fonts::file("../fonts/LICENSE").is_none());
    let mut page = Drawing::new((100.0, 20.0));
    page.text((10.0, 10.0), 5.0, "start", false, "\u{1f3bb}");
    assert!(!standing(&page).expect("it is drawn")[0].complete, "a picture is no letter: drawn as a box");
}
