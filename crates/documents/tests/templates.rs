//! Strips at true scale: measured on the rendered PDF, packed on as few sheets as will do.

mod support;

use bright_row_core::tapes::colour::Colour;
use bright_row_core::tapes::marker_set::MarkerKind;
use bright_row_documents::pdf::{Drawing, Paper, pdf};
use bright_row_documents::template::{
    ABOVE_NUT_MM, MARGIN_MM, OVERLAP_MM, RULER_MM, Template, TemplateMarker, WIDTH_MM, sheets, single,
};
use hayro::hayro_interpret::InterpreterSettings;
use hayro::hayro_syntax::Pdf;
use hayro::vello_cpu::color::palette::css::WHITE;
use hayro::{PixmapSettings, RenderCache, RenderSettings, render};
use proptest::prelude::*;

/// Pixels to a millimetre of the rendered page: some 500 dots to an inch.
const SCALE: f64 = 20.0;
const COLOURS: [Colour; 4] = [Colour::Green, Colour::Yellow, Colour::Red, Colour::Blue];

fn strip(tag: &str, length_mm: f64, at: &[f64]) -> Template {
    let marker = |(finger, at_mm): (u8, &f64)| TemplateMarker {
        label: finger.to_string(),
        colour: COLOURS[usize::from(finger - 1)],
        at_mm: *at_mm,
    };
    Template {
        tag: tag.to_owned(),
        what: "violin 3/4".to_owned(),
        length_mm,
        measured: true,
        day: "24 Nov 2026".to_owned(),
        kind: MarkerKind::Tapes,
        strip_mm: 3.0,
        colours: false,
        markers: (1..).zip(at).map(marker).collect(),
        for_thumb: false,
    }
}

/// A page of a PDF as rows of darkness, 0 for white to 255.
struct Rendered {
    width: usize,
    dark: Vec<u8>,
}

fn rendered(page: &Drawing) -> Rendered {
    let file = pdf(std::slice::from_ref(page), "a test").expect("a PDF");
    let document = Pdf::new(file).expect("a PDF that can be read");
    let points = 25.4 / 72.0;
    #[allow(clippy::cast_possible_truncation, clippy::as_conversions)]
    let scale = (SCALE * points) as f32;
    let size = PixmapSettings { x_scale: scale, y_scale: scale, bg_color: WHITE };
    let cache = RenderCache::new();
    let (reading, drawing) = (InterpreterSettings::default(), RenderSettings::default());
    let pixels = render(&document.pages()[0], &cache, &reading, &drawing, &size);
    let width = usize::from(pixels.width());
    let dark = pixels.data().iter().map(|pixel| 255 - pixel.r.min(pixel.g).min(pixel.b)).collect();
    Rendered { width, dark }
}

impl Rendered {
    fn at(&self, x: usize, y: usize) -> u8 {
        self.dark.get(y * self.width + x).copied().unwrap_or_default()
    }

    /// The middles of the dark lines that cross a column `x_mm` from the left, in millimetres from the top.
    fn lines(&self, x_mm: f64, least: u8) -> Vec<f64> {
        let x = whole(x_mm * SCALE);
        let height = self.dark.len() / self.width;
        let mut lines = Vec::new();
        let mut run: Option<(usize, f64, f64)> = None;
        for y in 0..=height {
            let dark = if y < height { self.at(x, y) } else { 0 };
            match (&mut run, dark >= least) {
                (None, true) => run = Some((y, number(y) * f64::from(dark), f64::from(dark))),
                (Some((_, sum, weight)), true) => {
                    *sum += number(y) * f64::from(dark);
                    *weight += f64::from(dark);
                }
                (Some((_, sum, weight)), false) => {
                    lines.push((*sum / *weight + 0.5) / SCALE);
                    run = None;
                }
                (None, false) => {}
            }
        }
        lines
    }
}

fn whole(value: f64) -> usize {
    usize::try_from(bright_row_core::number::whole(value)).expect("small")
}

fn number(value: usize) -> f64 {
    f64::from(u32::try_from(value).expect("small"))
}

#[test]
fn lines_on_the_rendered_pdf_lie_where_they_were_computed_to_a_fifth_of_a_millimetre() {
    let at = [34.285, 66.17, 80.74, 107.62];
    let pencil = Template { kind: MarkerKind::Pencil, ..strip("V-01", 328.0, &at) };
    for paper in [Paper::A4, Paper::Letter] {
        let page = &sheets(std::slice::from_ref(&pencil), paper).pages[0];
        let (width, _) = paper.size_mm();
        let left = (width - 6.0 * WIDTH_MM) / 2.0;
        // Between the finger's number and its distance nothing but the lines is printed; the nut line comes first.
        let found = rendered(page).lines(left + 5.4, 60);
        let nut = MARGIN_MM + ABOVE_NUT_MM;
        let markers: Vec<f64> = found.iter().map(|y| y - nut).filter(|mm| *mm > -0.5 && *mm < 110.0).collect();
        assert_eq!(markers.len(), 5, "{markers:?}");
        for (found, meant) in markers.iter().zip(std::iter::once(&0.0).chain(&at)) {
            assert!((found - meant).abs() < 0.2, "{paper:?}: {found} instead of {meant}");
        }
    }
}

#[test]
fn the_ruler_on_the_rendered_pdf_is_a_hundred_millimetres() {
    let page = single(&strip("V-01", 328.0, &[34.3, 66.2, 80.7]));
    // Where only the long ticks of every ten millimetres reach.
    let ticks = rendered(&page).lines(WIDTH_MM - 1.0 - 4.3, 40);
    let ticks: Vec<f64> = ticks.into_iter().filter(|y| *y > ABOVE_NUT_MM - 1.0 && *y < ABOVE_NUT_MM + 101.0).collect();
    assert_eq!(ticks.len(), 11, "{ticks:?}");
    assert!((ticks[10] - ticks[0] - RULER_MM).abs() < 0.2);
    for pair in ticks.windows(2) {
        assert!((pair[1] - pair[0] - 10.0).abs() < 0.2);
    }
}

#[test]
fn a_strip_longer_than_the_page_is_cut_in_two_that_overlap_and_both_keep_the_scale() {
    let long = Template { kind: MarkerKind::Pencil, ..strip("B-01", 1300.0, &[141.8, 206.8, 268.3]) };
    let on_letter = sheets(std::slice::from_ref(&long), Paper::Letter);
    assert_eq!((on_letter.pages.len(), on_letter.pieces), (1, 2));
    let (width, height) = Paper::Letter.size_mm();
    let left = (width - 6.0 * WIDTH_MM) / 2.0 + WIDTH_MM;
    let second = height - 2.0 * MARGIN_MM - OVERLAP_MM;
    let found = rendered(&on_letter.pages[0]).lines(left + 5.4, 60);
    let at = found.iter().map(|y| y - MARGIN_MM + second - ABOVE_NUT_MM);
    assert!(at.into_iter().any(|mm| (mm - 268.3).abs() < 0.2), "{found:?}");
    // First position on the largest bass is on one piece.
    let largest = strip("B-02", 1100.0, &[120.0, 175.0, 227.0]);
    for paper in [Paper::A4, Paper::Letter] {
        assert_eq!(sheets(std::slice::from_ref(&largest), paper).pieces, 1);
    }
}

#[test]
fn each_way_of_marking_has_its_own_drawing_and_words_large_enough_to_read() {
    let of = |kind, colours| single(&Template { kind, colours, ..strip("V-01", 328.0, &[34.3, 66.2, 80.7]) }).svg();
    let tapes = of(MarkerKind::Tapes, false);
    assert_eq!((tapes.matches("<rect").count(), tapes.matches("<circle").count()), (3, 0));
    let dots = of(MarkerKind::Dots, false);
    assert_eq!((dots.matches("<rect").count(), dots.matches("<circle").count()), (0, 3));
    let pencil = of(MarkerKind::Pencil, false);
    assert_eq!((pencil.matches("<rect").count(), pencil.matches("<circle").count()), (0, 0));
    let coloured = of(MarkerKind::Overlay, true);
    for (colour, there) in [(Colour::Green, true), (Colour::Red, true), (Colour::Purple, false)] {
        assert_eq!(coloured.contains(colour.hex()), there, "{}", colour.name());
        assert_eq!(coloured.contains(&format!(">{}<", colour.name())), there, "{}", colour.name());
    }
    assert!(!tapes.contains(">green<"), "where no finger has its own, nothing says so");
    let thumb = single(&Template { for_thumb: true, ..strip("C-01", 620.0, &[98.7]) }).svg();
    assert!(thumb.contains("<circle") && thumb.contains(">thumb<"));
    for svg in [tapes, dots, pencil, coloured, thumb] {
        for size in svg.split("font-size=\"").skip(1).filter_map(|rest| rest.split('"').next()) {
            // 2.8 mm is 8 points.
            assert!(size.parse::<f64>().expect("a size") >= 2.8, "{size}");
        }
        for word in ["nut edge", ">100<", ">mm<", "violin 3/4", "24 Nov 2026"] {
            assert!(svg.contains(word), "{word}");
        }
    }
}

#[test]
fn a_template_is_drawn_as_it_was() {
    insta::assert_snapshot!(single(&strip("A-03", 332.0, &[34.7, 67.0, 81.8])).svg());
}

#[test]
fn sixty_strips_come_on_as_few_sheets_as_will_do() {
    let strips: Vec<Template> =
        (0..60_u8).map(|number| strip(&format!("V-{number:02}"), 328.0, &[34.3, 66.2, 107.6])).collect();
    // Two in each of six columns.
    assert_eq!(sheets(&strips, Paper::A4).pages.len(), 5);
    assert!(sheets(&[], Paper::A4).pages.is_empty());
}

/// The fewest columns, by trying everything.
fn fewest(heights: &[f64], room: f64, columns: &mut Vec<f64>) -> usize {
    let Some((height, rest)) = heights.split_first() else { return columns.len() };
    let mut best = usize::MAX;
    for place in 0..columns.len() {
        if columns[place] >= *height {
            columns[place] -= height;
            best = best.min(fewest(rest, room, columns));
            columns[place] += height;
        }
    }
    columns.push(room - height);
    best = best.min(fewest(rest, room, columns));
    columns.pop();
    best
}

proptest! {
    #[test]
    fn no_packing_uses_fewer_columns(lengths in prop::collection::vec(60.0..250.0_f64, 1..8)) {
        let strips: Vec<Template> = lengths.iter().map(|length| strip("T", 328.0, &[*length])).collect();
        let room = 297.0 - 2.0 * MARGIN_MM;
        let heights: Vec<f64> = strips.iter().map(Template::height_mm).collect();
        let columns = fewest(&heights, room, &mut Vec::new());
        prop_assert_eq!(sheets(&strips, Paper::A4).pages.len(), columns.div_ceil(6));
    }
}

#[test]
fn nothing_on_a_strip_falls_over_anything_else_on_any_string_length() {
    let kinds = [MarkerKind::Tapes, MarkerKind::Dots, MarkerKind::Pencil];
    // From the smallest violin to the largest bass.
    for (number, length) in (190..1_110_u32).step_by(2).enumerate() {
        let semitones = [&[2, 4, 5, 7][..], &[2, 3, 5], &[2]][number % 3];
        let up = |semitone: &i32| f64::from(length) * (1.0 - 2.0_f64.powf(-f64::from(*semitone) / 12.0));
        let at: Vec<f64> = semitones.iter().map(up).collect();
        for for_thumb in [false, true] {
            let strip = Template {
                kind: kinds[number % kinds.len()],
                colours: number % 2 == 0,
                for_thumb,
                ..strip("VIOLIN-0123456789-W", f64::from(length), if for_thumb { &at[..1] } else { &at })
            };
            assert_eq!(support::amiss(&single(&strip)), Vec::<String>::new(), "{length} mm, thumb {for_thumb}");
        }
    }
}
