//! Pages: what stands where, and that the PDF holds it.

use bright_row_documents::labels::{Label, sheets};
use bright_row_documents::list::{Column, pages};
use bright_row_documents::pdf::{Drawing, Paper, fitting, pdf};
use bright_row_documents::seat_chart::{From, Taken, chart};

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
    let per_sheet = |paper| sheets(&many, paper)[0].svg().matches("<rect").count();
    assert_eq!((per_sheet(Paper::A4), sheets(&many, Paper::A4).len()), (24, 3));
    assert_eq!((per_sheet(Paper::Letter), sheets(&many, Paper::Letter).len()), (24, 3));
}

#[test]
fn a_tag_reads_like_this() {
    let svg = sheets(&[label("C-07")], Paper::A4)[0].svg();
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
    let drawings =
        [chart("Strings", &seats, From::Podium, Paper::A4), sheets(&[label("C-07")], Paper::Letter).remove(0)];
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
