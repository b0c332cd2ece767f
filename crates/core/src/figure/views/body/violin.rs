//! A violin or viola from the front: where it is in each of the moves, and the arms that bring it there.

use kurbo::{Point, Vec2};

use super::Body;
use super::front::wobbling;
use crate::figure::canvas::Canvas;
use crate::figure::part::{Part, Place};
use crate::figure::people::{arm, elbow};
use crate::figure::shape::Class;
use crate::figure::wood::Laid;
use crate::instrument::Instrument;

/// Where the instrument is in a move, from the base of the neck: its button, where it points, how flat it is seen, and how far
/// along and out the left hand holds it.
type Move = (Vec2, Vec2, f64, Option<(f64, f64)>);

/// The instrument, and where the left and the right hand are if they hold it.
struct Brought {
    laid: Option<Laid>,
    left: Option<Point>,
    right: Option<Point>,
}

impl Body {
    pub(super) fn with_a_violin(&self, canvas: &mut Canvas, instrument: Instrument, base: Point) {
        let large = self.size / 100.0 * if instrument == Instrument::Viola { 1.08 } else { 1.0 };
        let brought = self.brought(base, large);
        let before_the_head = !matches!(self.pose, "rest" | "tuck" | "hand round" | "turned");
        if !before_the_head {
            let middle = self.turned_head(canvas, base, 0.0);
            canvas.anchor(Part::Jaw, middle + Vec2::new(20.0, 60.0));
        }
        if let Some(laid) = &brought.laid {
            laid.draw(canvas);
            if self.pose == "turned" {
                // Its back is seen: no board, no strings.
                canvas.put(Class::Wood, laid.outline());
                canvas.line(Class::Nail, &[laid.at(10.0, 0.0), laid.at(laid.body - 10.0, 0.0)]);
            }
            canvas.anchor(Part::Scroll, laid.scroll());
            canvas.anchor(Part::Instrument, laid.at(laid.body * 0.5, 0.0));
        }
        if before_the_head {
            self.head_over_it(canvas, base);
        }
        let [left, right] = self.shoulders(base);
        self.left_arm(canvas, base, left, brought.left);
        self.right_arm(canvas, base, right, brought.right);
        if self.wobble > 20.0 {
            wobbling(canvas, base + Vec2::new(330.0, -90.0));
        }
    }

    fn head_over_it(&self, canvas: &mut Canvas, base: Point) {
        let playing = self.pose == "playing";
        let tilt = if playing { 5.0 + self.head_drop * 0.2 } else { 0.0 };
        let middle = self.turned_head(canvas, base, tilt);
        if playing {
            canvas.touch(Part::Jaw, Place::ChinRest, base + Vec2::new(62.0, -40.0 + self.head_drop * 0.6), 0.0);
        } else {
            canvas.anchor(Part::Jaw, middle + Vec2::new(30.0, 50.0));
        }
    }

    /// Where the moves have the instrument: rest, then the five that raise it.
    fn brought(&self, base: Point, large: f64) -> Brought {
        let there = |x: f64, y: f64| Vec2::new(x, y);
        let (button, along, flat, hand): Move = match self.pose {
            "empty" => return Brought { laid: None, left: None, right: None },
            "rest" => (there(-150.0, 250.0), there(0.82, 0.42), 0.6, None),
            "tuck" => (there(-160.0, 230.0), there(0.9, 0.2), 0.55, Some((395.0, 18.0))),
            "hand round" => (there(-70.0, 150.0), there(0.92, -0.16), 0.5, Some((370.0, 18.0))),
            "turned" => (there(-16.0, 120.0), there(0.9, -0.36), 0.85, Some((370.0, 14.0))),
            "above" => (there(70.0, -70.0), there(0.86, -0.18), 0.3, Some((370.0, 16.0))),
            _ => return self.played(base, large),
        };
        let (body, neck) = if self.pose == "above" { (290.0, 160.0) } else { (300.0, 165.0) };
        let laid = Laid { button: base + button, along, body: body * large, neck, flat, bass: false };
        let right = match self.pose {
            "rest" => base + Vec2::new(-40.0, 300.0),
            "tuck" => base + Vec2::new(-30.0, 270.0),
            // A finger on the end button.
            _ => laid.button,
        };
        let left = hand.map(|(along, out)| laid.at(along, out));
        Brought { laid: Some(laid), left, right: Some(right) }
    }

    /// On the shoulder, the scroll out and as high as it is set.
    fn played(&self, base: Point, large: f64) -> Brought {
        let out = self.scroll_out.to_radians().sin();
        let seen = 150.0 + 130.0 * out;
        let laid = Laid {
            button: base + Vec2::new(44.0, -14.0 - self.left_shoulder * 0.5 + self.head_drop * 0.4),
            along: Vec2::new(0.34 + out * 0.66, -0.06 - self.scroll_height / 260.0),
            body: seen * large,
            neck: seen * 0.56 * large,
            flat: 0.26 + (1.0 - out) * 0.3,
            bass: false,
        };
        let hand = match self.left_arm {
            "body" => laid.at(laid.body * 0.98, laid.body * 0.2 * laid.flat),
            _ => laid.at(laid.body + laid.neck * 0.68, 8.0),
        };
        Brought { laid: Some(laid), left: (self.left_arm != "free").then_some(hand), right: None }
    }

    fn left_arm(&self, canvas: &mut Canvas, base: Point, left: Point, hand: Option<Point>) {
        if let Some(hand) = hand {
            let wrist = hand + Vec2::new(6.0, 46.0);
            let joint = elbow(left, wrist, 1.0);
            canvas.melt(Class::Limb, arm(left, joint, wrist, hand - Vec2::new(0.0, 12.0)));
            canvas.anchor(Part::Elbow, joint);
        } else if self.measure == "arm" {
            let wrist = left + Vec2::new(225.0, -6.0);
            canvas.melt(Class::Limb, arm(left, left + Vec2::new(118.0, 0.0), wrist, wrist + Vec2::new(66.0, 0.0)));
            canvas.line(Class::Guide, &[base + Vec2::new(0.0, -20.0), Point::new(wrist.x + 50.0, left.y - 60.0)]);
        } else {
            Self::hanging(canvas, left, 1.0);
        }
    }

    fn right_arm(&self, canvas: &mut Canvas, base: Point, right: Point, hand: Option<Point>) {
        if let Some(hand) = hand {
            let wrist = hand + Vec2::new(-46.0, 6.0);
            canvas.melt(Class::Limb, arm(right, elbow(right, wrist, 1.0), wrist, hand));
        } else if self.bow == "held" {
            let wrist = base + Vec2::new(-150.0, 140.0);
            let contact = base + Vec2::new(120.0, -24.0);
            canvas.bar(Class::Wood, wrist + Vec2::new(26.0, 4.0), contact + (contact - wrist) * 0.7, 8.0);
            canvas.melt(Class::Limb, arm(right, elbow(right, wrist, 1.0), wrist, wrist + Vec2::new(40.0, -8.0)));
        } else {
            Self::hanging(canvas, right, -1.0);
        }
    }
}
