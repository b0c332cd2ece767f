//! As the director sees it: the backs of the fingers over the stick, the thumb behind it.

use kurbo::{Point, Rect, Vec2};

use super::{BowHand, helping_hand, pressure};
use crate::figure::bow::BowSize;
use crate::figure::canvas::Canvas;
use crate::figure::hand::{FINGER_PARTS, FINGERS, Finger, bent, forearm, palm, reach, reaching, thumb};
use crate::figure::limb::degrees;
use crate::figure::part::{Part, Place};
use crate::figure::shape::{Class, LabelWord};

impl BowHand {
    pub(super) fn seen_from_the_front(&self, size: BowSize) -> Canvas {
        let mut canvas = Canvas::new(190.0, 184.0);
        let up = self.upright / 90.0;
        canvas.origin(80.0 + 58.0 * up, 146.0 - 44.0 * up, -self.upright);
        let to = 104.0 - 10.0 * (self.upright * 2.0).to_radians().sin();
        let half = self.half(size);
        let middle_x = self.thumb_place + self.opposite;
        let tilt = (self.lean - 12.0).to_radians();
        let turned = |point: Point| {
            let about = Point::new(4.0, -30.0);
            let away = point - about;
            about + Vec2::new(away.x * tilt.cos() - away.y * tilt.sin(), away.x * tilt.sin() + away.y * tilt.cos())
        };
        let roots = [(27.0, -50.0), (14.0, -57.5), (1.0, -56.0), (-10.5, -47.5)]
            .map(|(x, y)| turned(Point::new(x, y)) + Vec2::new(self.thumb_place.min(8.0), 0.0));
        let wrist = turned(Point::new(-22.0, -99.0)) + Vec2::new(self.thumb_place.min(8.0), -self.wrist * 0.35);

        // The thumb is behind everything.
        let tip = Point::new(self.thumb_place, self.thumb_depth);
        let its = thumb(Point::new(self.thumb_place + 2.0, -60.0), tip, self.thumb_bend, 1.0);
        canvas.put(Class::Limb, its.outline());
        canvas.finger(&its);
        self.held(&mut canvas, size, to);
        if self.on != "hand" {
            canvas.touch_behind(
                Part::Thumb,
                self.thumb_touches(),
                Point::new(self.thumb_place, self.thumb_depth + 3.0),
            );
        }

        let radius = FINGERS[1].radii[3];
        let middle = reaching(&FINGERS[1], roots[1], Point::new(middle_x, self.drape - radius), 14.0, 1.0);
        let ring_x = middle_x - FINGERS[2].radii[3] * 2.0 - 1.2 - self.middle_gap;
        let ring = reaching(&FINGERS[2], roots[2], Point::new(ring_x, self.drape - radius - 1.0), 14.0, 1.0);
        let index_tip = Point::new(middle_x + self.index_place, self.index_reach - FINGERS[0].radii[3] + 4.0);
        let index = reaching(&FINGERS[0], roots[0], index_tip, self.index_curl, 1.0);
        let little = self.little(roots[3], half, ring_x);

        let mut all = palm(&roots, [9.4, 8.4], wrist, 19.0);
        all.push(forearm(wrist, Vec2::new(-0.62, -0.5 + self.wrist / 60.0), 70.0, 0.86));
        canvas.melt(Class::Limb, all);
        canvas.anchor(Part::Palm, roots[1].lerp(wrist, 0.45));
        canvas.anchor(Part::Knuckles, roots[0].lerp(roots[1], 0.5));
        canvas.anchor(Part::Wrist, wrist);
        let fingers = [&index, &little, &ring, &middle];
        for finger in fingers {
            canvas.over_the_palm(finger);
        }
        for finger in [&middle, &ring] {
            finger.nail_above(&mut canvas);
        }
        self.touched(&mut canvas, [&index, &middle, &ring, &little], half, size);
        if self.helper == "stick" {
            helping_hand(&mut canvas, Point::new(72.0, 0.0));
        }
        if self.squeeze > 20.0 {
            pressure(&mut canvas, Point::new(self.thumb_place, half + 6.0), 90.0);
            pressure(&mut canvas, roots[1] - Vec2::new(0.0, 14.0), -80.0);
        }
        canvas.label(LabelWord::RightHand, inside(Point::new(-60.0, 24.0), canvas.frame()));
        canvas
    }

    /// The little finger: on top of the stick as far out as its bend allows, or hanging over it.
    fn little(&self, root: Point, half: f64, ring_x: f64) -> Finger {
        let bones = &FINGERS[3];
        let radius = bones.radii[3];
        if self.little_drape > 0.0 {
            let aside = 15.0 + (26.0 - self.little_bend) * 0.15;
            let target =
                Point::new(ring_x - aside - self.little_lift * 0.5, self.little_drape - radius - self.little_lift);
            return reaching(bones, root, target, self.little_bend * 0.6, 1.0);
        }
        let down = -(half + radius) - self.little_lift - root.y;
        // Where the hand slopes far away, the finger opens until it is there.
        let bends = |bend: f64| [bend, bend * 0.6];
        let mut bend = self.little_bend;
        while bend > 1.0 && reach(bones, bends(bend)) < down.abs() {
            bend -= 1.0;
        }
        let (bends, reach) = (bends(bend), reach(bones, bends(bend)));
        let out = (reach * reach - down * down).max(0.0).sqrt();
        let tip = root + Vec2::new(-out, down);
        // The chain turned so that its tip lies there.
        let bow = bent(bones, Point::ZERO, 0.0, bends, -1.0).tip().to_vec2();
        bent(bones, root, degrees(tip - root) - degrees(bow), bends, -1.0)
    }

    fn touched(&self, canvas: &mut Canvas, fingers: [&Finger; 4], half: f64, size: BowSize) {
        for (finger, part) in fingers.iter().zip(FINGER_PARTS) {
            canvas.finger(finger);
            canvas.anchor(part, finger.joints[2]);
        }
        if self.on == "hand" {
            return;
        }
        let [index, middle, _, little] = fingers;
        let on = if self.on == "pencil" { Place::Pencil } else { Place::Stick };
        if let Some(at) = crossing(index, 0.0) {
            canvas.touch(Part::Index, on, at, 0.0);
        }
        if self.on == "frog" && self.drape > size.frog_depth - 9.0 {
            canvas.touch(Part::Middle, Place::Ferrule, middle.tip(), 0.0);
        }
        if self.little_drape > 0.0 && self.little_lift < 0.5 {
            if let Some(at) = crossing(little, 0.0) {
                canvas.touch(Part::Little, on, at, 0.0);
            }
        } else if self.little_lift < 0.5 {
            let at = Point::new(little.tip().x, -half);
            canvas.touch(
                Part::Little,
                if self.on == "pencil" { Place::Pencil } else { Place::StickTop },
                at,
                little.gap(at),
            );
        }
    }
}

/// Where the line of a finger's joints crosses a height, from its root down.
fn crossing(finger: &Finger, y: f64) -> Option<Point> {
    finger.joints.windows(2).find_map(|pair| {
        let (a, b) = (pair[0], pair[1]);
        ((a.y - y) * (b.y - y) <= 0.0 && (a.y - b.y).abs() > 1e-6).then(|| a.lerp(b, (y - a.y) / (b.y - a.y)))
    })
}

/// A label's place, moved as far as its letters need.
fn inside(label: Point, frame: Rect) -> Point {
    Point::new(label.x.clamp(frame.x0 + 36.0, frame.x1 - 36.0), label.y.clamp(frame.y0 + 6.0, frame.y1 - 6.0))
}
