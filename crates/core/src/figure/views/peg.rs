//! The scroll from the front: which peg is turned which way, and whether it is pushed in.

use kurbo::{BezPath, Point, Vec2};

use crate::figure::canvas::Canvas;
use crate::figure::limb::{End, limb, line, oval, polar};
use crate::figure::parameters::parameters;
use crate::figure::part::{Part, Place};
use crate::figure::shape::Class;
use crate::instrument::Instrument;

parameters! {
    /// The numbers of the pegs.
    Peg {
        number which (1.0, 4.0, "count") = [2.0, 2.0, 2.0, 2.0], "Which string's peg, 1 the highest.";
        word turn ("still", "up", "down") = ["up", "up", "up", "up"], "Whether the string goes up or down.";
        word push ("in", "none") = ["in", "in", "in", "none"], "Whether the peg is pushed in while it turns.";
    }
}

impl Peg {
    pub(crate) fn canvas(&self, instrument: Instrument) -> Canvas {
        let mut canvas = Canvas::new(170.0, 196.0);
        canvas.origin(85.0, 66.0, 0.0);
        let machines = instrument == Instrument::Bass;
        let mut scroll = BezPath::new();
        scroll.extend(oval(Point::new(0.0, -36.0), Vec2::new(21.0, 23.0), 0.0));
        canvas.put(Class::Wood, scroll);
        canvas.put(
            Class::Nail,
            line(&[Point::new(0.0, -30.0), Point::new(13.0, -38.0), Point::new(2.0, -52.0), Point::new(-11.0, -40.0)]),
        );
        canvas.area(
            Class::Wood,
            &[Point::new(-15.0, -18.0), Point::new(15.0, -18.0), Point::new(19.0, 96.0), Point::new(-19.0, 96.0)],
        );
        canvas.area(
            Class::Frog,
            &[Point::new(-8.0, -8.0), Point::new(8.0, -8.0), Point::new(12.0, 88.0), Point::new(-12.0, 88.0)],
        );
        canvas.area(
            Class::Board,
            &[Point::new(-17.0, 100.0), Point::new(17.0, 100.0), Point::new(19.0, 128.0), Point::new(-19.0, 128.0)],
        );
        canvas.area(
            Class::Ferrule,
            &[Point::new(-19.0, 95.0), Point::new(19.0, 95.0), Point::new(19.0, 100.0), Point::new(-19.0, 100.0)],
        );
        let chosen = self.which.round();
        // The pegs of the two middle strings are nearest to the scroll; low strings are on the left.
        for (number, side, y) in [(4.0, -1.0, 72.0), (3.0, -1.0, 34.0), (2.0, 1.0, 10.0), (1.0, 1.0, 52.0)] {
            let is_it = f64::abs(number - chosen) < 0.5;
            let x = (2.5 - number) * 6.4;
            let class = if is_it { Class::Sounding } else { Class::Hair };
            canvas.put(
                class,
                limb(
                    &[Point::new(x * 0.7, y), Point::new(x, 97.0), Point::new(x * 1.05, 128.0)],
                    &[0.9, 0.9, 0.9],
                    [End::Cut, End::Cut],
                ),
            );
            let head = Point::new(side * 47.0, y);
            canvas.put(
                Class::Board,
                limb(&[Point::new(side * -12.0, y), Point::new(side * 34.0, y)], &[3.4, 4.6], [End::Round, End::Cut]),
            );
            let radii = if machines { Vec2::new(8.0, 12.0) } else { Vec2::new(13.0, 10.5) };
            canvas.put(Class::Board, oval(head, radii, 0.0));
            if is_it {
                self.turned(&mut canvas, head, side);
            }
        }
        canvas
    }

    fn turned(&self, canvas: &mut Canvas, head: Point, side: f64) {
        canvas.touch(Part::Peg, Place::PegHead, head, 0.0);
        // Up turns away from the player on both sides: seen from the front, over the top and back.
        let way = match self.turn {
            "up" => -1.0,
            "down" => 1.0,
            _ => 0.0,
        };
        if way != 0.0 {
            let at = head + Vec2::new(side * 4.0, 0.0);
            canvas.arrow(at + polar(21.0, 90.0) * -way, at + polar(21.0, 90.0) * way);
        }
        if self.push == "in" {
            canvas.arrow(head + Vec2::new(side * 36.0, 0.0), head + Vec2::new(side * 17.0, 0.0));
        }
    }
}
