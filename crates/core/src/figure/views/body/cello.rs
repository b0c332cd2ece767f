//! A cello or bass from the front: at rest or at the body, the knees, the arms.

use kurbo::{Point, Vec2};

use super::Body;
use super::front::wobbling;
use crate::figure::canvas::Canvas;
use crate::figure::limb::{End, limb, polar};
use crate::figure::part::{Part, Place};
use crate::figure::people::{ARM, HEAD, arm, elbow};
use crate::figure::shape::{Class, LabelWord};
use crate::figure::wood::Laid;

impl Body {
    pub(super) fn with_a_cello(&self, canvas: &mut Canvas, base: Point, bass: bool) {
        let middle = self.turned_head(canvas, base, 0.0);
        canvas.anchor(Part::Jaw, middle + Vec2::new(20.0, 60.0));
        let (foot, laid) = self.on_its_pin(bass);
        if self.pose != "empty" {
            canvas.bar(Class::Ferrule, foot, laid.button + laid.along * 20.0, 9.0);
            laid.draw(canvas);
            canvas.touch(Part::Pin, Place::Floor, foot, 0.0);
            canvas.anchor(Part::Scroll, laid.scroll());
            canvas.anchor(Part::Instrument, laid.at(laid.body * 0.5, 0.0));
            if self.sits() {
                self.knees_before_the_ribs(canvas);
            }
        }
        self.arms_at_it(canvas, base, &laid);
        self.held_by(canvas, base, &laid, bass);
        if self.pose == "playing" && !bass {
            // The open hand's room between scroll and ear.
            let scroll = laid.scroll();
            let y = scroll.y.min(middle.y + 40.0);
            canvas.line(Class::Guide, &[Point::new(middle.x + HEAD.x, y), Point::new(scroll.x - 24.0, y)]);
        }
        if self.wobble > 20.0 {
            wobbling(canvas, laid.scroll() + Vec2::new(50.0, 0.0));
        }
    }

    /// Where its pin stands, and the instrument over it.
    fn on_its_pin(&self, bass: bool) -> (Point, Laid) {
        let large = self.size / 100.0 * if bass { 1.36 } else { 1.0 };
        let (x, lean) = match (self.pose, bass) {
            ("rest", true) => (150.0, 12.0),
            ("rest", false) => (96.0, 12.0),
            (_, true) => (70.0, self.slant),
            (_, false) => (-14.0, self.slant),
        };
        let foot = Point::new(x, -6.0);
        let along = polar(1.0, -90.0 + lean);
        let neck = 390.0 * large * if bass { 0.92 } else { 1.0 };
        (foot, Laid { button: foot + along * self.pin, along, body: 570.0 * large, neck, flat: 0.9, bass })
    }

    fn knees_before_the_ribs(&self, canvas: &mut Canvas) {
        let half = self.feet / 2.0;
        for side in [-1.0, 1.0] {
            let knee = Point::new(side * (half * 0.95 + 14.0), -self.seat_height + 6.0);
            let foot = Point::new(side * half, -38.0);
            canvas.put(Class::Limb, limb(&[knee, foot], &[50.0, 30.0], [End::Round, End::Round]));
            canvas.touch(Part::Knees, Place::Bouts, knee - Vec2::new(side * 40.0, 6.0), 0.0);
        }
    }

    fn arms_at_it(&self, canvas: &mut Canvas, base: Point, laid: &Laid) {
        let [left, right] = self.shoulders(base);
        let hand = match (self.pose, self.left_arm) {
            ("empty", _) | (_, "free") => None,
            ("rest", _) | (_, "body") => Some(laid.at(laid.body * 0.93, laid.body * 0.2)),
            _ => Some(laid.at(laid.body + laid.neck * 0.52, 14.0)),
        };
        if let Some(hand) = hand {
            let wrist = hand + Vec2::new(52.0, 14.0);
            let joint = elbow(left, wrist, 1.0);
            canvas.melt(Class::Limb, arm(left, joint, wrist, hand));
            canvas.anchor(Part::Elbow, joint);
            canvas.anchor(Part::Wrist, wrist);
        } else {
            let joint = left + Vec2::new(60.0, ARM[0] * 0.94);
            let wrist = joint + Vec2::new(44.0, ARM[1] * 0.94);
            canvas.melt(Class::Limb, arm(left, joint, wrist, wrist + Vec2::new(10.0, 66.0)));
            canvas.anchor(Part::Elbow, joint);
        }
        let joint = right + Vec2::new(-50.0, ARM[0] * 0.95);
        let wrist = joint + if self.bow == "held" { Vec2::new(40.0, 180.0) } else { Vec2::new(-6.0, ARM[1]) };
        if self.bow == "held" {
            canvas.bar(Class::Wood, wrist + Vec2::new(-6.0, 20.0), Point::new(wrist.x + 420.0, wrist.y + 6.0), 9.0);
        }
        canvas.melt(Class::Limb, arm(right, joint, wrist, wrist + Vec2::new(14.0, 60.0)));
        canvas.label(LabelWord::LeftHand, left + Vec2::new(130.0, 300.0));
    }

    /// What of the body holds it: the breastbone the cello, hip and belly the bass.
    fn held_by(&self, canvas: &mut Canvas, base: Point, laid: &Laid, bass: bool) {
        if matches!(self.pose, "empty" | "rest") {
            canvas.anchor(Part::Back, base + Vec2::new(0.0, 100.0));
        } else if bass {
            canvas.touch(Part::Instrument, Place::Hip, Point::new(70.0, -self.hip_height() - 30.0), 0.0);
        } else if self.away < 30.0 {
            canvas.touch(Part::Instrument, Place::Breastbone, laid.at(laid.body * 0.98, -4.0), 0.0);
        }
    }
}
