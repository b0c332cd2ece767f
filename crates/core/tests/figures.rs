//! What holds of every drawing, over the whole range of its numbers.

mod support;

use std::collections::BTreeMap;

use bright_row_core::craft::approach::Choices;
use bright_row_core::craft::edits::Edits;
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::figure::{Class, Figure, FigureSpec, Part, Range, Setting, Settings, View, becoming, picture};
use kurbo::Shape as _;
use proptest::prelude::*;

/// A tip is so close to what it touches, in millimetres.
const CLOSE: f64 = 0.5;

/// Any settings of a view: some numbers anywhere in their range, some words.
fn settings(view: View) -> impl Strategy<Value = Settings> {
    let each: Vec<_> = view
        .parameters()
        .iter()
        .map(|parameter| {
            let to = match &parameter.range {
                Range::Number { least, most, .. } => (*least..=*most).prop_map(Setting::Number).boxed(),
                Range::Word { words } => {
                    prop::sample::select(words.to_vec()).prop_map(|word| Setting::Word(word.to_owned())).boxed()
                }
            };
            // Left as it is usual more often than not: a drawing in use sets a few.
            prop::option::weighted(0.35, to).prop_map(|to| to.map(|to| (parameter.name.to_owned(), to)))
        })
        .collect();
    each.prop_map(|set| set.into_iter().flatten().collect())
}

fn any_figure() -> impl Strategy<Value = (FigureSpec, Instrument)> {
    let view = prop::sample::select(View::ALL);
    let instrument = prop::sample::select(Instrument::ALL.to_vec());
    (view, instrument).prop_flat_map(|(view, instrument)| {
        settings(view).prop_map(move |set| (FigureSpec { set, ..FigureSpec::usual(view) }, instrument))
    })
}

fn inside(figure: &Figure) -> bool {
    let bounds = figure.bounds();
    let room = figure.line * 1.01 + 0.11;
    bounds.x0 >= -room && bounds.y0 >= -room && bounds.x1 <= figure.width + room && bounds.y1 <= figure.height + room
}

/// The angle between two pieces, in degrees.
fn bend(before: kurbo::Vec2, after: kurbo::Vec2) -> f64 {
    before.cross(after).atan2(before.dot(after)).to_degrees().abs()
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(1_500))]

    #[test]
    fn a_tip_touches_what_it_touches_and_bones_keep_their_lengths((spec, instrument) in any_figure()) {
        let figure = spec.draw(instrument);
        for touch in &figure.touches {
            prop_assert!(touch.gap <= CLOSE, "{:?} is {} mm from {:?}", touch.part, touch.gap, touch.place);
        }
        for (joints, lengths) in figure.chains.iter().filter(|(_, lengths)| !lengths.is_empty()) {
            for (pair, length) in joints.windows(2).zip(lengths) {
                let drawn = (pair[1] - pair[0]).hypot();
                prop_assert!((drawn - length).abs() < 0.01, "{drawn} mm long instead of {length}");
            }
            for three in joints.windows(3) {
                let angle = bend(three[1] - three[0], three[2] - three[1]);
                prop_assert!(angle <= 119.0, "bent by {angle} degrees");
            }
        }
    }

    #[test]
    fn nothing_leaves_the_frame_and_every_number_is_one((spec, instrument) in any_figure()) {
        let figure = spec.draw(instrument);
        prop_assert!(inside(&figure), "{:?} in {} x {}", figure.bounds(), figure.width, figure.height);
        prop_assert!(!figure.shapes.is_empty());
        for shape in &figure.shapes {
            let data = shape.d.to_svg();
            prop_assert!(!data.contains("NaN") && !data.contains("inf"), "{data}");
        }
        for touch in &figure.touches {
            prop_assert!((0.0..=figure.width).contains(&touch.x) && (0.0..=figure.height).contains(&touch.y));
        }
    }

    #[test]
    fn the_same_numbers_make_the_same_drawing_and_a_mirror_gives_it_back((spec, instrument) in any_figure()) {
        let figure = spec.draw(instrument);
        prop_assert_eq!(&figure, &spec.draw(instrument));
        let twice = figure.mirrored().mirrored();
        for (once, again) in figure.shapes.iter().zip(&twice.shapes) {
            prop_assert_eq!(once.d.to_svg(), again.d.to_svg());
        }
        let (area, mirrored) = (figure.shapes[0].d.area(), figure.mirrored().shapes[0].d.area());
        prop_assert!((area + mirrored).abs() <= 0.02 * area.abs() + 1.0, "{area} and {mirrored}");
    }

    #[test]
    fn between_two_drawings_lie_their_ends_and_nothing_out_of_range(
        ((from, instrument), share) in (any_figure(), -1.0_f64..2.0),
        seed in any::<u8>(),
    ) {
        let to = FigureSpec::usual(from.view);
        prop_assert_eq!(becoming(&from, &to, instrument, 0.0).draw(instrument), from.draw(instrument));
        prop_assert_eq!(becoming(&from, &to, instrument, 1.0).draw(instrument), to.draw(instrument));
        let between = becoming(&from, &to, instrument, share);
        prop_assert!(between.faults(instrument).is_empty());
        let other = View::ALL[usize::from(seed) % View::ALL.len()];
        let (apart, right) = (FigureSpec::usual(other), picture(&to, instrument, Some(&from), None, false));
        prop_assert!(inside(&right));
        prop_assert_eq!(picture(&apart, instrument, Some(&from), Some(1.0), false), apart.draw(instrument));
    }

    #[test]
    fn what_nobody_should_write_is_named_and_drawn_all_the_same(
        view in prop::sample::select(View::ALL),
        instrument in prop::sample::select(Instrument::ALL.to_vec()),
        name in "[a-z_]{1,60}|\\PC{1,80}",
        number in any::<f64>(),
        word in "\\PC{0,80}",
        real in any::<prop::sample::Index>(),
    ) {
        let real = real.get(view.parameters()).name;
        let set: Settings = [(name, Setting::Number(number)), (real.to_owned(), Setting::Word(word))].into();
        let spec = FigureSpec { set, ..FigureSpec::usual(view) };
        prop_assert!(!spec.faults(instrument).is_empty());
        prop_assert!(spec.faults(instrument).iter().all(|fault| fault.message.chars().count() < 700));
        prop_assert!(inside(&spec.draw(instrument)));
        let number: Settings = [(real.to_owned(), Setting::Number(number))].into();
        let only = FigureSpec { set: number, ..spec };
        prop_assert!(inside(&only.draw(instrument)));
    }
}

#[test]
fn what_is_usual_is_in_range() {
    for view in View::ALL {
        for instrument in Instrument::ALL {
            let spec = FigureSpec { set: FigureSpec::usual(*view).settings(instrument), ..FigureSpec::usual(*view) };
            assert_eq!(spec.faults(instrument), []);
            for parameter in view.parameters() {
                assert_eq!(Some(parameter.usual(instrument)), spec.value(instrument, parameter.name));
            }
        }
    }
}

#[test]
fn more_settings_than_any_view_has_are_refused_at_once() {
    let set = (0..5_000).map(|at| (format!("n{at}"), Setting::Number(1.0))).collect();
    let spec = FigureSpec { set, ..FigureSpec::usual(View::Body) };
    let faults = spec.faults(Instrument::Violin);
    assert_eq!(faults.len(), 1);
    assert_eq!(faults[0].message, "at most 48 numbers and parts are set");
}

/// A drawing in a few words: what it sets, what touches what, and a sum over its outlines that any change of a line changes.
fn summary(spec: &FigureSpec, instrument: Instrument) -> String {
    let figure = spec.draw(instrument);
    let set: Vec<String> = spec
        .set
        .iter()
        .map(|(name, to)| match to {
            Setting::Number(number) => format!("{name}={number}"),
            Setting::Word(word) => format!("{name}={word}"),
        })
        .collect();
    let touches: Vec<String> =
        figure.touches.iter().map(|touch| format!("{} on {}", touch.part.word(), touch.place.word())).collect();
    let points: usize = figure.shapes.iter().map(|shape| shape.d.elements().len()).sum();
    let sum: f64 = figure.shapes.iter().map(|shape| shape.d.bounding_box().center().to_vec2().hypot()).sum();
    let stressed = figure.shapes.iter().filter(|shape| shape.class == Class::Amiss).count();
    format!(
        "{} [{}] {} shapes, {points} points, sum {sum:.0}, stressed {stressed}; {}",
        spec.view.word(),
        set.join(" "),
        figure.shapes.len(),
        touches.join(", ")
    )
}

#[test]
fn every_checkpoint_option_and_slip_is_drawn_as_before() {
    let content = support::content();
    let drawings = content.drawings(&Choices::new(), &Edits::default());
    let mut text = String::new();
    for (id, on) in &drawings.checkpoints {
        for (instrument, drawn) in on {
            text += &format!("{id} {}: {}\n", instrument.key(), summary(&drawn.look, *instrument));
            if let Some(proof) = &drawn.proof {
                text += &format!("{id} {} proof: {}\n", instrument.key(), summary(proof, *instrument));
            }
        }
    }
    insta::assert_snapshot!("checkpoints_drawn", text);
    let mut text = String::new();
    for (id, on) in &drawings.slips {
        for (instrument, drawn) in on {
            text += &format!("{id} {}: {}\n", instrument.key(), summary(&drawn.amiss, *instrument));
        }
    }
    insta::assert_snapshot!("slips_drawn", text);
    let mut text = String::new();
    for (choice, options) in &drawings.options {
        for (option, on) in options {
            for (instrument, spec) in on {
                text += &format!("{choice} {option} {}: {}\n", instrument.key(), summary(spec, *instrument));
            }
        }
    }
    insta::assert_snapshot!("options_drawn", text);
}

#[test]
fn one_drawing_of_each_view_line_by_line() {
    for view in View::ALL {
        let figure = FigureSpec::usual(*view).draw(Instrument::Violin);
        let json = serde_json::to_string_pretty(&figure).expect("plain data");
        insta::assert_snapshot!(format!("view_{}", view.word().replace('-', "_")), json);
    }
}

#[test]
fn an_option_changes_the_drawings_of_its_view_and_a_child_goes_its_own_way() {
    let content = support::content();
    let class = content.drawings(&Choices::new(), &Edits::default());
    let clear = Choices::from([("bow-thumb".to_owned(), "clear".to_owned())]);
    let own = content.drawings(&clear, &Edits::default());
    let differing = own.differing_from(&class);
    let changed: BTreeMap<&str, Vec<&str>> = differing
        .checkpoints
        .iter()
        .map(|(id, on)| {
            let other = |on: &&Instrument| class.checkpoints[id][*on] != differing.checkpoints[id][*on];
            (id.as_str(), on.keys().filter(other).map(|on| on.key()).collect())
        })
        .collect();
    assert!(changed.keys().all(|id| id.starts_with("bow.")), "{changed:?}");
    assert!(changed.values().all(|on| on == &["vn", "va"]), "{changed:?}");
    assert!(changed.contains_key("bow.thumb"));
    assert!(differing.steps.is_empty() && differing.options.is_empty());
    assert_eq!(class.differing_from(&class).checkpoints.len(), 0);
}

#[test]
fn with_every_option_each_slip_still_differs_from_right() {
    let content = support::content();
    for choice in &content.approach.choices {
        for option in &choice.options {
            let choices = Choices::from([(choice.key.clone(), option.id.clone())]);
            let drawings = content.drawings(&choices, &Edits::default());
            for (id, on) in &drawings.slips {
                for (instrument, drawn) in on {
                    let seen = |spec: &FigureSpec| FigureSpec { amiss: Vec::new(), ..spec.clone() }.draw(*instrument);
                    let key = instrument.key();
                    assert_ne!(seen(&drawn.amiss), seen(&drawn.right), "{id} {key} with {} {}", choice.key, option.id);
                }
            }
        }
    }
}

#[test]
fn a_hand_that_slopes_far_away_opens_its_little_finger() {
    let set = [("lean", 28.846_748), ("little_bend", 69.533_279)];
    let set = set.map(|(name, to)| (name.to_owned(), Setting::Number(to))).into_iter().collect();
    let figure = FigureSpec { set, ..FigureSpec::usual(View::BowHand) }.draw(Instrument::Violin);
    let little = figure.touches.iter().find(|touch| touch.part == Part::Little).expect("it lies on the stick");
    assert!(little.gap <= CLOSE, "{} mm away", little.gap);
}

#[test]
fn the_other_comes_first_only_where_the_class_sees_both_and_differs_from_right() {
    let content = support::content();
    let shown = |choices: &Choices| {
        let drawings = content.drawings(choices, &Edits::default());
        let steps = drawings.steps.into_values().flatten().flat_map(BTreeMap::into_iter);
        let steps = steps.filter_map(|(on, step)| Some((on, step.figure, step.other?)));
        let looks = drawings.checkpoints.into_values().flat_map(BTreeMap::into_iter);
        let looks = looks.filter_map(|(on, drawn)| Some((on, drawn.look, drawn.other?)));
        steps.chain(looks).collect::<Vec<_>>()
    };
    assert!(shown(&Choices::new()).is_empty(), "only the right shape is what most classes see");
    let both = shown(&Choices::from([("contrast".to_owned(), "both".to_owned())]));
    assert!(both.len() > 120, "{}", both.len());
    for (on, right, other) in both {
        assert_eq!(right.view, other.view);
        assert!(!other.amiss.is_empty());
        let plain = FigureSpec { amiss: Vec::new(), ..other };
        assert_ne!(plain.draw(on), right.draw(on), "{plain:?} on the {}", on.name());
    }
}
