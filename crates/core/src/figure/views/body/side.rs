//! From the child's left, who looks to the left of the drawing: spine, seat, knees, head, and the instrument before it.

use kurbo::{Point, Vec2};

use super::{Body, KNEE, TRUNK};
use crate::figure::canvas::Canvas;
use crate::figure::limb::{End, limb, oval};
use crate::figure::part::{Part, Place};
use crate::figure::people::{ARM, arm, elbow};
use crate::figure::shape::Class;
use crate::figure::wood::Laid;
use crate::instrument::Instrument;

impl Body {
    pub(super) fn seen_from_the_side(&self, canvas: &mut Canvas, instrument: Instrument) {
        let hip = Point::new(if self.sits() { self.seat_back } else { 40.0 }, -self.hip_height());
        if self.sits() {
            self.chair_from_the_side(canvas);
        }
        self.leg_from_the_side(canvas, hip);
        let lean = self.lean.to_radians();
        let base = hip + Vec2::new(-lean.sin() * TRUNK, -lean.cos() * TRUNK);
        let skull = base + Vec2::new(-14.0 - lean.sin() * 80.0 - self.head_drop * 1.1, -124.0 + self.head_drop * 0.8);
        let ends = [End::Round, End::Round];
        canvas.melt(
            Class::Limb,
            [
                limb(&[base + Vec2::new(0.0, 48.0), base.lerp(hip, 0.55), hip], &[80.0, 84.0, 84.0], ends),
                limb(&[base + Vec2::new(0.0, 20.0), skull + Vec2::new(10.0, 20.0)], &[34.0, 34.0], ends),
                oval(skull, Vec2::new(80.0, 92.0), 0.0),
                limb(&[skull + Vec2::new(-76.0, -4.0), skull + Vec2::new(-88.0, 12.0)], &[6.0, 9.0], ends),
            ],
        );
        canvas.anchor(Part::Head, skull);
        canvas.anchor(Part::Back, base.lerp(hip, 0.5) + Vec2::new(70.0, 0.0));
        canvas.line(Class::Guide, &[Point::new(hip.x, hip.y + 30.0), Point::new(hip.x, hip.y - TRUNK - 240.0)]);
        let shoulder = base + Vec2::new(6.0, 34.0 - self.left_shoulder);
        canvas.anchor(Part::Shoulder, shoulder);
        let hand = match instrument {
            Instrument::Violin | Instrument::Viola => self.violin_from_the_side(canvas, base),
            Instrument::Cello => self.cello_from_the_side(canvas, base, false),
            Instrument::Bass => self.cello_from_the_side(canvas, base, true),
        };
        let holds = self.pose != "empty" && self.left_arm != "free";
        Self::arm_from_the_side(canvas, shoulder, holds.then_some(hand));
        self.stand_from_the_side(canvas, skull);
    }

    fn chair_from_the_side(&self, canvas: &mut Canvas) {
        let top = -self.seat_height;
        canvas.bar(Class::Wood, Point::new(-30.0, top + 8.0), Point::new(300.0, top + 8.0), 28.0);
        canvas.bar(Class::Wood, Point::new(0.0, top + 20.0), Point::new(-8.0, -8.0), 20.0);
        canvas.bar(Class::Wood, Point::new(280.0, top + 20.0), Point::new(296.0, -8.0), 20.0);
        if self.seat == "chair" {
            canvas.bar(Class::Wood, Point::new(290.0, top), Point::new(320.0, top - 360.0), 20.0);
        }
    }

    fn leg_from_the_side(&self, canvas: &mut Canvas, hip: Point) {
        let ends = [End::Round, End::Round];
        let (foot, knee) = if self.sits() {
            let foot = Point::new(hip.x - 300.0 + (hip.x - 30.0) * 0.3, -34.0);
            let drop = (self.hip_height() - KNEE).clamp(-20.0, 130.0);
            (foot, Point::new(foot.x + 16.0, hip.y + drop.min(foot.y - hip.y - 200.0)))
        } else {
            (Point::new(40.0, -34.0), Point::new(34.0, -KNEE))
        };
        canvas.melt(
            Class::Limb,
            [
                limb(&[hip, knee, foot], &[68.0, 52.0, 30.0], ends),
                limb(&[foot, foot + Vec2::new(-90.0, 12.0)], &[26.0, 20.0], ends),
            ],
        );
        canvas.touch(Part::Feet, Place::Floor, foot + Vec2::new(-40.0, 32.0), 0.0);
        canvas.anchor(Part::Knees, knee);
    }

    /// Draws the instrument, if there is one, and says where the left hand holds it.
    fn violin_from_the_side(&self, canvas: &mut Canvas, base: Point) -> Point {
        let button = base + Vec2::new(-40.0, -28.0 + self.head_drop * 0.3);
        let along = Vec2::new(-1.0, -self.scroll_height / 330.0 - 0.03);
        let laid = Laid { button, along, body: 2.5 * self.size, neck: 1.4 * self.size, flat: 0.2, bass: false };
        if self.pose != "empty" {
            laid.draw(canvas);
            canvas.anchor(Part::Scroll, laid.scroll());
            canvas.touch(Part::Jaw, Place::ChinRest, button + Vec2::new(-16.0, -14.0), 0.0);
        }
        laid.at(3.38 * self.size, 12.0)
    }

    /// The same of a cello or bass.
    fn cello_from_the_side(&self, canvas: &mut Canvas, base: Point, bass: bool) -> Point {
        let large = self.size / 100.0 * if bass { 1.36 } else { 1.0 };
        let breast = base + Vec2::new(-92.0 - self.away, 96.0);
        let foot = Point::new(breast.x - if bass { 60.0 } else { 250.0 }, -4.0);
        let along = (breast - foot).normalize();
        let (body, neck) = (570.0 * large, 380.0 * large);
        let laid = Laid { button: foot + along * self.pin, along, body, neck, flat: 0.34, bass };
        if self.pose != "empty" {
            canvas.bar(Class::Ferrule, foot, laid.button, 9.0);
            laid.draw(canvas);
            canvas.touch(Part::Pin, Place::Floor, foot, 0.0);
            canvas.anchor(Part::Scroll, laid.scroll());
            if self.away < 20.0 {
                canvas.touch(Part::Instrument, if bass { Place::Hip } else { Place::Breastbone }, breast, 0.0);
            } else {
                canvas.anchor(Part::Instrument, breast);
            }
        }
        laid.at(body + neck * 0.5, 10.0)
    }

    fn arm_from_the_side(canvas: &mut Canvas, shoulder: Point, hand: Option<Point>) {
        if let Some(hand) = hand {
            let wrist = hand + Vec2::new(24.0, 40.0);
            let joint = elbow(shoulder, wrist, -1.0);
            canvas.melt(Class::Limb, arm(shoulder, joint, wrist, hand - Vec2::new(4.0, 10.0)));
            canvas.anchor(Part::Elbow, joint);
        } else {
            let wrist = shoulder + Vec2::new(-30.0, ARM[0] + ARM[1] - 10.0);
            let joint = shoulder + Vec2::new(6.0, ARM[0]);
            canvas.melt(Class::Limb, arm(shoulder, joint, wrist, wrist + Vec2::new(-8.0, 66.0)));
        }
    }

    fn stand_from_the_side(&self, canvas: &mut Canvas, skull: Point) {
        if self.stand == "none" {
            return;
        }
        let (x, y) = (-352.0, if self.stand == "eyes" { skull.y } else { skull.y + 420.0 });
        canvas.bar(Class::Ferrule, Point::new(x, -10.0), Point::new(x, y + 60.0), 9.0);
        canvas.bar(Class::Board, Point::new(x - 20.0, y + 80.0), Point::new(x - 44.0, y - 80.0), 14.0);
        canvas.line(Class::Guide, &[Point::new(x - 20.0, y), Point::new(skull.x - 90.0, skull.y)]);
        canvas.anchor(Part::Stand, Point::new(x - 30.0, y));
    }
}
