//! The instruments as a whole: a violin or viola from above, a cello or bass from the front.

use kurbo::{Affine, BezPath, Point, Vec2};

use super::canvas::Canvas;
use super::limb::{blob, disc, unit};
use super::shape::Class;

/// Half of a body's outline, from the button to the neck: how far along and how far out, in parts of the body's length.
const BODY: [(f64, f64); 9] = [
    (0.0, 0.0),
    (-0.01, 0.2),
    (0.08, 0.33),
    (0.3, 0.3),
    (0.42, 0.16),
    (0.58, 0.15),
    (0.68, 0.27),
    (0.93, 0.25),
    (1.02, 0.08),
];

/// The same of a bass, whose shoulders slope.
const BASS_BODY: [(f64, f64); 9] = [
    (0.0, 0.0),
    (-0.01, 0.22),
    (0.08, 0.36),
    (0.3, 0.33),
    (0.42, 0.19),
    (0.58, 0.17),
    (0.68, 0.25),
    (0.86, 0.16),
    (1.04, 0.05),
];

/// An instrument laid along a line.
pub(super) struct Laid {
    /// Where the button or the end of the body is.
    pub(super) button: Point,
    /// Towards the scroll.
    pub(super) along: Vec2,
    /// Length of the body in millimetres as it is seen.
    pub(super) body: f64,
    /// From the end of the body to the end of the scroll as it is seen.
    pub(super) neck: f64,
    /// How wide it is seen: 1 from straight above, less from the side.
    pub(super) flat: f64,
    /// Whether its shoulders slope.
    pub(super) bass: bool,
}

impl Laid {
    fn place(&self) -> Affine {
        let along = unit(self.along);
        Affine::new([along.x, along.y, -along.y, along.x, self.button.x, self.button.y])
    }

    /// A point so far along from the button and so far out to the right of the way to the scroll, in millimetres.
    pub(super) fn at(&self, along: f64, out: f64) -> Point {
        self.place() * Point::new(along, out)
    }

    /// Where the scroll ends.
    pub(super) fn scroll(&self) -> Point {
        self.at(self.body + self.neck, 0.0)
    }

    /// The body's outline.
    pub(super) fn outline(&self) -> BezPath {
        let half = if self.bass { BASS_BODY } else { BODY };
        let point =
            |(along, out): (f64, f64), side: f64| Point::new(along * self.body, out * self.body * self.flat * side);
        let mut all: Vec<Point> = half.iter().map(|at| point(*at, 1.0)).collect();
        all.extend(half.iter().skip(1).rev().map(|at| point(*at, -1.0)));
        self.place() * blob(&all, false)
    }

    /// Body, neck, fingerboard, bridge, scroll and strings.
    pub(super) fn draw(&self, canvas: &mut Canvas) {
        let (body, wide) = (self.body, self.body * 0.042 * self.flat.max(0.55));
        canvas.put(Class::Wood, self.outline());
        let quad = |from: f64, near: f64, to: f64, far: f64| {
            blob(&[self.at(from, -near), self.at(to, -far), self.at(to, far), self.at(from, near)], true)
        };
        canvas.put(Class::Wood, quad(body * 0.98, wide, body + self.neck, wide * 0.7));
        canvas.put(Class::Board, quad(body * 0.66, wide * 1.25, body + self.neck * 0.62, wide * 0.8));
        canvas.put(Class::Board, quad(body * 0.02, wide * 0.6, body * 0.22, wide * 1.1));
        canvas.put(Class::Board, quad(body * 0.4, wide * 2.1, body * 0.425, wide * 2.1));
        canvas.put(
            Class::String,
            blob(&[self.at(body * 0.2, 0.0), self.at(body + self.neck * 0.6, 0.0), self.at(body * 0.2, 0.4)], true),
        );
        canvas.put(Class::Wood, disc(self.scroll(), wide * 1.25));
    }
}
