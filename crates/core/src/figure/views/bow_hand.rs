//! The hand on the bow: as the director sees it who faces the child, or from the frog's end.

use kurbo::{Point, Vec2};

use crate::figure::bow::BowSize;
use crate::figure::canvas::Canvas;
use crate::figure::hand::{FINGER_PARTS, FINGERS, Finger, THUMB_RADII, bent, forearm, palm, reach, reaching, thumb};
use crate::figure::limb::{End, blob, degrees, limb, line, polar};
use crate::figure::parameters::parameters;
use crate::figure::part::{Part, Place};
use crate::figure::shape::{Class, LabelWord};
use crate::instrument::Instrument;

parameters! {
    /// The numbers of the hand on the bow. Along the stick they count from the front of the frog, towards the tip.
    BowHand {
        word seen ("front", "end") = ["front", "front", "front", "front"], "From where it is seen.";
        word hold ("overhand", "underhand") = ["overhand", "overhand", "overhand", "overhand"], "How a bass bow is held.";
        word on ("hand", "pencil", "balance", "frog") = ["frog", "frog", "frog", "frog"], "What the hand holds.";
        number thumb_bend (-25.0, 75.0, "degrees") = [48.0, 48.0, 42.0, 40.0], "Bend of the thumb's joint; below 0 it is pressed through.";
        number thumb_place (-6.0, 20.0, "mm") = [1.0, 1.0, -2.0, -2.0], "Where the thumb touches the stick.";
        number thumb_depth (2.0, 18.0, "mm") = [5.0, 5.0, 5.0, 5.0], "How far the thumb's tip comes through below the stick.";
        number opposite (-4.0, 12.0, "mm") = [1.0, 1.0, 1.0, 1.0], "How far the middle finger is from the thumb, towards the tip.";
        number drape (2.0, 27.0, "mm") = [16.0, 16.0, 23.0, 24.0], "How far the two middle fingers hang below the stick's middle.";
        number middle_gap (0.0, 9.0, "mm") = [0.4, 0.4, 3.0, 3.0], "Room between the two middle fingers.";
        number index_place (14.0, 48.0, "mm") = [23.0, 23.0, 24.0, 24.0], "How far the index lies from the middle finger.";
        number index_reach (-6.0, 24.0, "mm") = [9.0, 9.0, 14.0, 14.0], "How far the index hangs below the stick's middle.";
        number index_curl (-20.0, 80.0, "degrees") = [30.0, 30.0, 28.0, 28.0], "Bend of the index's end joint.";
        number little_bend (0.0, 70.0, "degrees") = [60.0, 60.0, 26.0, 26.0], "Bend of the little finger's middle joint.";
        number little_lift (0.0, 28.0, "mm") = [0.0, 0.0, 0.0, 0.0], "How far the little finger is off the stick.";
        number little_drape (0.0, 22.0, "mm") = [0.0, 0.0, 15.0, 16.0], "How far the little finger hangs over the stick; 0 is on top.";
        number lean (-20.0, 30.0, "degrees") = [12.0, 12.0, 12.0, 12.0], "How far the knuckles slope to the bow's tip.";
        number wrist (-40.0, 40.0, "degrees") = [0.0, 0.0, 0.0, 0.0], "The wrist: above 0 it is pushed up, below 0 sunk.";
        number upright (0.0, 90.0, "degrees") = [0.0, 0.0, 0.0, 0.0], "How far the bow's tip points up.";
        number drawn (0.0, 40.0, "mm") = [0.0, 0.0, 0.0, 0.0], "How far the pencil is drawn out of the hand.";
        number squeeze (0.0, 100.0, "percent") = [0.0, 0.0, 0.0, 0.0], "How hard the hand presses.";
        word helper ("none", "stick") = ["none", "none", "none", "none"], "Whether the other hand carries the stick.";
    }
}

impl BowHand {
    pub(crate) fn canvas(&self, instrument: Instrument) -> Canvas {
        let size = BowSize::of(instrument);
        if self.hold == "underhand" && instrument == Instrument::Bass {
            self.underhand(size)
        } else if self.seen == "end" {
            self.seen_from_the_end(size)
        } else {
            self.seen_from_the_front(size)
        }
    }

    /// What the hand holds, to the right until `to`.
    fn held(&self, canvas: &mut Canvas, size: BowSize, to: f64) {
        match self.on {
            "frog" => size.draw(canvas, 0.0, to),
            "balance" => {
                let depth = size.frog_depth * 0.62;
                canvas.bar(Class::Hair, Point::new(-70.0, depth), Point::new(to, depth - 1.5), 2.4);
                let ends = [End::Cut, End::Cut];
                canvas.put(
                    Class::Wood,
                    limb(&[Point::new(-70.0, 0.0), Point::new(to, 0.0)], &[size.stick, size.stick], ends),
                );
            }
            "pencil" => {
                let half = 3.8;
                let (near, end) = (Point::new(self.drawn - 48.0, 0.0), Point::new(self.drawn + to.min(82.0), 0.0));
                let high = Vec2::new(0.0, half);
                canvas.area(
                    Class::Soft,
                    &[near - high - Vec2::new(10.0, 0.0), near - high, near + high, near + high - Vec2::new(10.0, 0.0)],
                );
                let cone = end - Vec2::new(15.0, 0.0);
                canvas.area(Class::Wood, &[near - high, cone - high, end, cone + high, near + high]);
                canvas.line(Class::Nail, &[near - high * 0.2, cone - high * 0.2]);
                if self.drawn > 5.0 {
                    canvas.arrow(Point::new(58.0, 22.0), Point::new(58.0 + self.drawn, 22.0));
                }
            }
            _ => {}
        }
    }

    /// Half of the thickness of what is held.
    fn half(&self, size: BowSize) -> f64 {
        match self.on {
            "pencil" => 3.8,
            "hand" => THUMB_RADII[2] * 0.4,
            _ => size.stick,
        }
    }

    fn seen_from_the_front(&self, size: BowSize) -> Canvas {
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
        canvas.label(LabelWord::RightHand, Point::new(-60.0, 24.0).min_in(canvas.frame()));
        canvas
    }

    fn thumb_touches(&self) -> Place {
        match self.on {
            "pencil" => Place::Pencil,
            "balance" => Place::Stick,
            _ if self.thumb_depth > 12.0 => Place::FrogUnder,
            _ if self.thumb_place > 4.0 => Place::Wrapping,
            _ => Place::FrogFront,
        }
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
        let bends = [self.little_bend, self.little_bend * 0.6];
        let reach = reach(bones, bends);
        let down = -(half + radius) - self.little_lift - root.y;
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

    fn seen_from_the_end(&self, size: BowSize) -> Canvas {
        let mut canvas = Canvas::new(112.0, 128.0);
        canvas.origin(54.0, 94.0, 0.0);
        let half = self.half(size);
        let knuckle = Point::new(13.0, -57.0);
        let wrist = Point::new(-9.0, -124.0);
        let radius = FINGERS[1].radii[3];
        // What is further away comes first: the middle finger on the far side, then the stick, then thumb and little finger.
        let middle = reaching(&FINGERS[1], knuckle, Point::new(half + radius + 1.0, self.drape - radius), 16.0, 1.0);
        let tip_radius = THUMB_RADII[2];
        let round = 168.0 - (self.thumb_depth - 4.0).max(0.0) * 5.2;
        let tip = Point::ZERO + polar(half + tip_radius, round);
        let its = thumb(Point::new(-22.0, -58.0), tip, self.thumb_bend, -1.0);
        let base = its.joints[0];
        let hand = [
            limb(&[knuckle, wrist], &[10.5, 19.0], [End::Round, End::Cut]),
            limb(&[base, wrist], &[THUMB_RADII[0], 16.0], [End::Round, End::Cut]),
            limb(&[knuckle, base], &[9.0, 9.5], [End::Round, End::Round]),
            blob(&[knuckle, wrist, base], true),
        ];
        let (round_hand, thumb_line, middle_line) = (hand, its.outline(), middle.outline());
        canvas.melt(Class::Limb, round_hand.into_iter().chain([middle_line]));
        match self.on {
            "pencil" => canvas.disc(Class::Wood, Point::ZERO, half),
            "hand" => {}
            _ => size.draw_from_the_end(&mut canvas, self.on == "frog"),
        }
        canvas.put(Class::Limb, thumb_line);
        canvas.put(
            Class::Skin,
            limb(
                &[base + (wrist - base) * 0.25, base.lerp(its.joints[1], 0.45)],
                &[THUMB_RADII[0] - 1.0, THUMB_RADII[1] - 0.6],
                [End::Round, End::Round],
            ),
        );
        its.nail(&mut canvas, Vec2::new(-1.0, 0.6));
        middle.nail(&mut canvas, Vec2::new(1.0, 0.0));
        canvas.finger(&its);
        canvas.finger(&middle);
        let at = Point::ZERO + polar(half, round);
        canvas.touch(Part::Thumb, self.thumb_touches(), at, its.gap(at));
        canvas.anchor(Part::Thumb, its.joints[1]);
        let over = Point::new(half, 0.0);
        canvas.anchor(Part::Middle, middle.joints[2]);
        canvas.touch(Part::Middle, if self.on == "pencil" { Place::Pencil } else { Place::Stick }, over, 0.0);
        canvas.anchor(Part::Palm, Point::new(-4.0, -34.0));
        canvas.anchor(Part::Wrist, wrist);
        if self.squeeze > 20.0 {
            pressure(&mut canvas, its.joints[1] - Vec2::new(14.0, 0.0), 180.0);
            pressure(&mut canvas, middle.joints[1] + Vec2::new(12.0, 0.0), 0.0);
        }
        canvas.label(LabelWord::RightHand, Point::new(-30.0, 24.0));
        canvas
    }

    /// The frog in the palm, the thumb on top, the first fingers along the side, the little finger below.
    fn underhand(&self, size: BowSize) -> Canvas {
        let mut canvas = Canvas::new(190.0, 150.0);
        canvas.origin(104.0, 62.0, -self.upright * 0.15);
        self.held(&mut canvas, size, 72.0);
        let half = self.half(size);
        let depth = if self.on == "frog" { size.frog_depth } else { half };
        let wrist = Point::new(-80.0, 24.0 + self.wrist * 0.3);
        let roots = [Point::new(-36.0, 0.0), Point::new(-36.0, 12.0), Point::new(-38.0, 24.0), Point::new(-42.0, 34.0)];
        let mut hand = palm(&roots, [9.0, 8.4], wrist, 18.0);
        hand.push(forearm(wrist, Vec2::new(-1.0, 0.35 - self.wrist / 90.0), 50.0, 0.8));
        canvas.melt(Class::Limb, hand);
        let index = reaching(
            &FINGERS[0],
            roots[0],
            Point::new(14.0 + self.index_place * 0.5, half * 0.4),
            self.index_curl * 0.4,
            1.0,
        );
        let middle = reaching(&FINGERS[1], roots[1], Point::new(4.0 + self.drape, half + 7.5), 10.0, 1.0);
        let ring = reaching(&FINGERS[2], roots[2], Point::new(9.0, depth - 9.0), 36.0, 1.0);
        let radius = FINGERS[3].radii[3];
        let little_tip = Point::new(-12.0, depth + radius + self.little_lift);
        let little = reaching(&FINGERS[3], roots[3], little_tip, self.little_bend * 0.6, -1.0);
        for finger in [&little, &ring, &middle, &index] {
            canvas.over_the_palm(finger);
        }
        let through = (self.thumb_depth - 5.0).max(0.0) * 1.7;
        let tip = Point::new(self.thumb_place.max(0.0) + 6.0, through - half - THUMB_RADII[2]);
        let its = thumb(Point::new(-60.0, 6.0), tip, self.thumb_bend * 0.8, 1.0);
        canvas.put(Class::Limb, its.outline());
        canvas.put(
            Class::Skin,
            limb(
                &[wrist.lerp(its.joints[0], 0.6), its.joints[0].lerp(its.joints[1], 0.4)],
                &[12.0, THUMB_RADII[1] - 0.8],
                [End::Round, End::Round],
            ),
        );
        its.nail(&mut canvas, Vec2::new(0.0, -1.0));
        for (finger, part) in
            [(&index, Part::Index), (&middle, Part::Middle), (&ring, Part::Ring), (&little, Part::Little)]
        {
            canvas.finger(finger);
            canvas.anchor(part, finger.joints[2]);
        }
        canvas.finger(&its);
        let on = if self.on == "pencil" { Place::Pencil } else { Place::StickTop };
        let at = Point::new(tip.x, -half);
        if through < 0.5 {
            canvas.touch(Part::Thumb, on, at, its.gap(at));
        }
        canvas.anchor(Part::Thumb, its.tip());
        canvas.touch(Part::Index, if self.on == "pencil" { Place::Pencil } else { Place::Stick }, index.tip(), 0.0);
        if self.on == "frog" && self.little_lift < 0.5 {
            let at = Point::new(little.tip().x, depth);
            canvas.touch(Part::Little, Place::FrogUnder, at, little.gap(at));
        }
        canvas.anchor(Part::Palm, roots[2].lerp(wrist, 0.5));
        canvas.anchor(Part::Knuckles, roots[1]);
        canvas.anchor(Part::Wrist, wrist);
        if self.squeeze > 20.0 {
            pressure(&mut canvas, Point::new(its.joints[1].x, its.joints[1].y - 14.0), -90.0);
            pressure(&mut canvas, Point::new(-30.0, 50.0), 90.0);
        }
        if self.helper == "stick" {
            helping_hand(&mut canvas, Point::new(62.0, 0.0));
        }
        canvas.label(LabelWord::RightHand, Point::new(-60.0, 74.0));
        canvas
    }
}

/// Where the line of a finger's joints crosses a height, from its root down.
fn crossing(finger: &Finger, y: f64) -> Option<Point> {
    finger.joints.windows(2).find_map(|pair| {
        let (a, b) = (pair[0], pair[1]);
        ((a.y - y) * (b.y - y) <= 0.0 && (a.y - b.y).abs() > 1e-6).then(|| a.lerp(b, (y - a.y) / (b.y - a.y)))
    })
}

/// Three short strokes that go out from where something presses.
pub(super) fn pressure(canvas: &mut Canvas, from: Point, degrees: f64) {
    for aside in [-32.0, 0.0, 32.0] {
        let (a, b) = (from + polar(3.0, degrees + aside), from + polar(10.0, degrees + aside));
        canvas.put(Class::Nail, line(&[a, b]));
    }
}

/// The left hand that carries the stick: four fingers over it, thumb behind.
fn helping_hand(canvas: &mut Canvas, at: Point) {
    let ends = [End::Round, End::Round];
    let palm = limb(&[at + Vec2::new(6.0, 16.0), at + Vec2::new(16.0, 24.0)], &[16.0, 12.0], [End::Round, End::Cut]);
    canvas.put(Class::Limb, palm);
    for finger in 0..4_u8 {
        let x = at.x - 13.0 + f64::from(finger) * 9.6;
        let tip = [4.0, 6.0, 6.0, 3.0][usize::from(finger)];
        let path = limb(
            &[Point::new(x + 3.0, 14.0), Point::new(x, -9.0), Point::new(x - 1.0, -9.0 - tip)],
            &[5.4, 5.2, 4.8],
            ends,
        );
        canvas.put(Class::Limb, path);
    }
    canvas.anchor(Part::Helper, at);
}

/// Keeping a label inside.
trait Inside {
    fn min_in(self, frame: kurbo::Rect) -> Self;
}

impl Inside for Point {
    fn min_in(self, frame: kurbo::Rect) -> Self {
        Self::new(self.x.clamp(frame.x0 + 36.0, frame.x1 - 36.0), self.y.clamp(frame.y0 + 6.0, frame.y1 - 6.0))
    }
}
