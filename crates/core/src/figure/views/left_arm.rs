//! The left arm: the line from elbow to knuckles, the elbow under the instrument or lifted.

use kurbo::{Point, Vec2};

use crate::figure::canvas::Canvas;
use crate::figure::limb::{End, limb, oval, unit};
use crate::figure::parameters::parameters;
use crate::figure::part::{Part, Place};
use crate::figure::people::{HEAD, trunk};
use crate::figure::shape::{Class, LabelWord};
use crate::instrument::Instrument;

parameters! {
    /// The numbers of the left arm.
    LeftArm {
        number wrist (-45.0, 45.0, "mm") = [0.0, 0.0, 0.0, 0.0], "How far the wrist is off the line from elbow to knuckles: below 0 in or sunk, above 0 out or humped.";
        number elbow (-150.0, 60.0, "mm") = [0.0, 0.0, 0.0, 0.0], "How far the elbow is from where it belongs: below 0 out to the side, or dropped.";
        number string (1.0, 4.0, "count") = [3.0, 2.0, 2.0, 2.0], "For which string, 1 the highest.";
        number squeeze (0.0, 100.0, "percent") = [0.0, 0.0, 0.0, 0.0], "How hard the hand presses.";
        word arrow ("none", "elbow") = ["none", "none", "none", "none"], "Whether an arrow shows the way of the elbow.";
        word line ("shown", "none") = ["shown", "shown", "shown", "shown"], "Whether the line from elbow to knuckles is drawn.";
    }
}

impl LeftArm {
    pub(crate) fn canvas(&self, instrument: Instrument) -> Canvas {
        match instrument {
            Instrument::Violin | Instrument::Viola => self.under_the_neck(),
            Instrument::Cello => self.lifted(19.0, 0.0),
            Instrument::Bass => self.lifted(25.0, -26.0),
        }
    }

    /// The wrist off the line between elbow and knuckles.
    fn wrist(&self, elbow: Point, knuckles: Point, share: f64, out: Vec2) -> Point {
        elbow.lerp(knuckles, share) + out * self.wrist
    }

    /// Along the neck from the scroll.
    fn under_the_neck(&self) -> Canvas {
        let mut canvas = Canvas::new(470.0, 560.0);
        canvas.origin(205.0, 222.0, 0.0);
        canvas.put(Class::Limb, oval(Point::new(52.0, -112.0), HEAD, 6.0));
        let [chest, shoulders] = trunk(0.0, 0.0, 300.0, 0.0);
        let over = kurbo::Affine::translate(Vec2::new(48.0, 40.0));
        canvas.melt(Class::Limb, [over * chest, over * shoulders]);
        canvas.put(Class::Wood, oval(Point::new(14.0, -8.0), Vec2::new(98.0, 20.0), -6.0));
        let elbow = Point::new(70.0 - (self.string - 2.0) * 20.0 - self.elbow, 226.0 - self.elbow.abs() * 0.08);
        let knuckles = Point::new(-21.0, -4.0);
        let wrist = self.wrist(elbow, knuckles, 0.66, Vec2::new(-1.0, 0.1));
        let ends = [End::Round, End::Round];
        let shoulder = Point::new(178.0, 66.0);
        canvas.melt(
            Class::Limb,
            [
                limb(&[shoulder, elbow, wrist], &[40.0, 31.0, 20.0], ends),
                limb(&[wrist, knuckles + Vec2::new(8.0, 16.0)], &[20.0, 19.0], ends),
                limb(&[wrist, Point::new(23.0, 14.0), Point::new(24.0, -12.0)], &[18.0, 11.0, 9.0], ends),
            ],
        );
        // The neck, cut, with its board.
        canvas.put(Class::Wood, oval(Point::new(1.0, 4.0), Vec2::new(13.0, 17.0), 0.0));
        canvas.put(Class::Board, oval(Point::new(1.0, -7.0), Vec2::new(14.5, 5.5), 0.0));
        canvas.melt(
            Class::Limb,
            [limb(
                &[knuckles, Point::new(-19.0, -42.0), Point::new(2.0, -38.0), Point::new(3.0, -20.0)],
                &[10.5, 9.5, 8.5, 7.0],
                ends,
            )],
        );
        canvas.put(
            Class::Skin,
            limb(&[knuckles + Vec2::new(6.0, 22.0), knuckles - Vec2::new(0.0, 12.0)], &[9.0, 8.0], ends),
        );
        self.joints(&mut canvas, elbow, wrist, knuckles);
        canvas.touch(Part::Index, Place::String, Point::new(3.0, -13.0), 0.0);
        canvas.anchor(Part::Palm, Point::new(-2.0, 30.0));
        canvas.anchor(Part::Shoulder, shoulder);
        canvas.label(LabelWord::LeftHand, Point::new(-120.0, 70.0));
        canvas
    }

    /// From the front, the arm lifted from the side to a neck that stands up.
    fn lifted(&self, half: f64, up: f64) -> Canvas {
        let mut canvas = Canvas::new(560.0, 500.0);
        canvas.origin(255.0, 206.0, 0.0);
        let middle = Point::new(-86.0, -54.0 - up * 0.4);
        canvas.put(Class::Limb, limb(&[middle, Point::new(-86.0, 96.0)], &[34.0, 36.0], [End::Round, End::Round]));
        canvas.put(Class::Limb, oval(middle, HEAD, 0.0));
        let [chest, shoulders] = trunk(0.0, 0.0, 178.0, 0.0);
        let over = kurbo::Affine::translate(Vec2::new(-86.0, 112.0));
        canvas.melt(Class::Limb, [over * chest, over * shoulders]);
        let wide = half * 1.15;
        canvas.put(
            Class::Wood,
            limb(&[Point::new(0.0, -130.0), Point::new(0.0, 294.0)], &[half, wide], [End::Cut, End::Cut]),
        );
        canvas.put(Class::Wood, oval(Point::new(0.0, -150.0), Vec2::new(half * 1.25, half * 1.5), 0.0));
        canvas.area(
            Class::Board,
            &[Point::new(-half, -92.0), Point::new(half, -92.0), Point::new(wide, 294.0), Point::new(-wide, 294.0)],
        );
        for string in 0..4_u8 {
            let x = (f64::from(string) - 1.5) * half * 0.46;
            let class = if (4.0 - f64::from(string) - self.string).abs() < 0.5 { Class::Sounding } else { Class::Hair };
            canvas.put(
                class,
                limb(&[Point::new(x, -92.0), Point::new(x * 1.1, 294.0)], &[1.0, 1.0], [End::Cut, End::Cut]),
            );
        }
        let shoulder = Point::new(46.0, 136.0);
        let dropped = (-self.elbow).max(0.0);
        let elbow = Point::new(222.0 - dropped * 0.52, 76.0 - (self.string - 2.0) * 14.0 - self.elbow);
        let knuckles = Point::new(half + 17.0, 2.0);
        let wrist = self.wrist(elbow, knuckles, 0.66, Vec2::new(0.0, -1.0));
        let ends = [End::Round, End::Round];
        canvas.melt(
            Class::Limb,
            [
                limb(&[shoulder, elbow, wrist], &[40.0, 31.0, 20.0], ends),
                limb(&[wrist, knuckles + Vec2::new(8.0, 0.0)], &[20.0, 26.0], ends),
            ],
        );
        let target = (2.5 - self.string) * half * 0.46;
        for finger in 0..4_u8 {
            let y = (f64::from(finger) - 1.5) * 19.0;
            let (root, tip) = (knuckles + Vec2::new(4.0, y * 0.8), Point::new(target + 6.0, y));
            canvas.put(
                Class::Limb,
                limb(&[root, root.lerp(tip, 0.5) - Vec2::new(0.0, 2.0), tip], &[9.5, 9.0, 7.0], ends),
            );
            canvas.put(Class::Skin, limb(&[root + Vec2::new(10.0, 0.0), root], &[8.0, 8.0], ends));
        }
        self.joints(&mut canvas, elbow, wrist, knuckles);
        canvas.touch(Part::Index, Place::String, Point::new(target + 3.0, -28.5), 0.0);
        canvas.anchor(Part::Palm, knuckles);
        canvas.anchor(Part::Shoulder, shoulder);
        canvas.label(LabelWord::LeftHand, Point::new(130.0, -66.0));
        canvas
    }

    fn joints(&self, canvas: &mut Canvas, elbow: Point, wrist: Point, knuckles: Point) {
        if self.line == "shown" {
            let on = unit(knuckles - elbow) * 26.0;
            canvas.line(Class::Guide, &[elbow - on, knuckles + on]);
        }
        canvas.anchor(Part::Knuckles, knuckles);
        canvas.anchor(Part::Elbow, elbow);
        canvas.anchor(Part::Wrist, wrist);
        if self.squeeze > 20.0 {
            super::bow_hand::pressure(canvas, knuckles + Vec2::new(0.0, -52.0), -90.0);
        }
        if self.arrow == "elbow" {
            let at = elbow + Vec2::new(0.0, 44.0);
            canvas.arrow(at + Vec2::new(40.0, 0.0), at - Vec2::new(40.0, 0.0));
        }
    }
}
