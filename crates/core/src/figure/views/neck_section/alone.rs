//! The same hand without an instrument: a ring of thumb and finger, a finger that taps on a table or on the other palm.

use kurbo::{Point, Vec2};

use super::NeckSection;
use crate::figure::canvas::Canvas;
use crate::figure::hand::{FINGERS, Finger, THUMB_RADII, brought, forearm, thumb};
use crate::figure::limb::{End, blob, limb};
use crate::figure::part::{Part, Place};
use crate::figure::shape::{Class, LabelWord};

impl NeckSection {
    /// Thumb and first finger meet at a point.
    pub(super) fn ring(&self) -> Canvas {
        let mut canvas = Canvas::new(150.0, 170.0);
        canvas.origin(92.0, 52.0, 0.0);
        let finger = self.tip_at(Point::new(-40.0, 16.0 - self.knuckle));
        let its = thumb(Point::new(-16.0, 70.0), Point::new(0.0, THUMB_RADII[2]), self.thumb_bend, 1.0);
        let (root, base) = (finger.joints[0], its.joints[0]);
        let wrist = Point::new(-44.0 - self.wrist * 0.4, 78.0);
        let ends = [End::Round, End::Round];
        canvas.melt(
            Class::Limb,
            [
                limb(&[root, wrist - Vec2::new(7.0, 0.0)], &[FINGERS[0].radii[0], 16.0], ends),
                limb(&[base, wrist + Vec2::new(7.0, 2.0)], &[THUMB_RADII[0] * 0.92, 15.0], ends),
                blob(&[root, base, wrist + Vec2::new(12.0, 0.0), wrist - Vec2::new(14.0, 0.0)], true),
                forearm(wrist, Vec2::new(-0.35, 1.0), 90.0, 0.9),
                its.outline(),
                finger.outline(),
            ],
        );
        its.nail(&mut canvas, Vec2::new(1.0, 0.0));
        self.meets(&mut canvas, &finger, &its, wrist, Place::Thumb);
        canvas
    }

    /// The first finger on something flat, the hand over its edge.
    pub(super) fn on_a_surface(&self) -> Canvas {
        let mut canvas = Canvas::new(190.0, 130.0);
        canvas.origin(124.0, 74.0, 0.0);
        let finger = self.tip_at(Point::new(-52.0, -10.0 - self.knuckle));
        let root = finger.joints[0];
        let wrist = root + Vec2::new(-50.0, 16.0 + self.wrist * 0.4);
        let its = thumb(root + Vec2::new(-26.0, 30.0), root + Vec2::new(22.0, 34.0), self.thumb_bend, -1.0);
        let ends = [End::Round, End::Round];
        let place = if self.around == "table" {
            canvas.bar(Class::Wood, Point::new(-8.0, 5.0), Point::new(90.0, 5.0), 10.0);
            Place::Table
        } else {
            let palm = [Point::new(-10.0, 8.0), Point::new(26.0, 11.0), Point::new(90.0, 15.0)];
            canvas.put(Class::Limb, limb(&palm, &[8.0, 11.0, 15.0], [End::Round, End::Cut]));
            Place::OtherPalm
        };
        canvas.melt(
            Class::Limb,
            [
                limb(&[root, wrist], &[FINGERS[0].radii[0], 16.0], ends),
                limb(&[its.joints[0], wrist + Vec2::new(0.0, 6.0)], &[THUMB_RADII[0] * 0.9, 14.0], ends),
                forearm(wrist, Vec2::new(-1.0, 0.2), 90.0, 0.9),
                its.outline(),
                finger.outline(),
            ],
        );
        self.meets(&mut canvas, &finger, &its, wrist, place);
        canvas
    }

    /// The first finger with the end of its tip at the origin, or above it where it is lifted.
    fn tip_at(&self, root: Point) -> Finger {
        let bones = &FINGERS[0];
        brought(bones, root, Point::new(0.0, -bones.radii[3] - self.lift), self.end_bend, 1.0)
    }

    fn meets(&self, canvas: &mut Canvas, finger: &Finger, its: &Finger, wrist: Point, place: Place) {
        finger.nail(canvas, Vec2::new(1.0, -0.4));
        canvas.finger(finger);
        canvas.finger(its);
        canvas.anchor(Part::Knuckles, finger.joints[0]);
        canvas.anchor(Part::Thumb, its.joints[1]);
        canvas.anchor(Part::Palm, finger.joints[0].midpoint(its.joints[0]));
        canvas.anchor(Part::Wrist, wrist);
        canvas.anchor(Part::Index, finger.joints[2]);
        if self.lift < 0.5 {
            canvas.touch(Part::Index, place, Point::ZERO, finger.gap(Point::ZERO));
        }
        canvas.label(LabelWord::LeftHand, Point::new(18.0, 60.0));
    }
}
