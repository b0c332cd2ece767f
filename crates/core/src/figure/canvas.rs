//! Where a view puts its shapes, back to front.

use kurbo::{Affine, BezPath, Point, Rect, Vec2};

use super::clip::clipped;
use super::limb::{arrow, blob, disc, limb, line, unit};
use super::part::{Part, Place};
use super::shape::{Class, Figure, Label, LabelWord, Shape, Touch, rounded, tenths};
use super::{hand::Finger, limb::End};

/// A drawing in the making.
pub(super) struct Canvas {
    figure: Figure,
    /// From the numbers of the view to those of the drawing.
    place: Affine,
    /// Where each part is that can be stressed.
    anchors: Vec<(Part, Point)>,
    /// Which of the touches are hidden.
    hidden: Vec<usize>,
}

impl Canvas {
    /// An empty drawing so wide and high, in millimetres.
    pub(super) fn new(width: f64, height: f64) -> Self {
        let line = tenths(width.min(height) / 105.0).max(0.6);
        let (shapes, touches, labels, chains) = (Vec::new(), Vec::new(), Vec::new(), Vec::new());
        let figure = Figure { width, height, line, shapes, touches, labels, chains };
        Self { figure, place: Affine::IDENTITY, anchors: Vec::new(), hidden: Vec::new() }
    }

    /// From now on the view's point (0, 0) lies here, and everything is turned by so many degrees, clockwise.
    pub(super) fn origin(&mut self, x: f64, y: f64, turned: f64) {
        self.place = Affine::translate(Vec2::new(x, y)) * Affine::rotate(turned.to_radians());
    }

    /// The frame in the numbers of the view, where it is not turned.
    pub(super) fn frame(&self) -> Rect {
        self.place.inverse().transform_rect_bbox(Rect::new(0.0, 0.0, self.figure.width, self.figure.height))
    }

    /// Radius of a dot.
    fn dot(&self) -> f64 {
        self.figure.line * 2.6
    }

    pub(super) fn put(&mut self, class: Class, path: BezPath) {
        self.put_in_place(class, self.place * path);
    }

    /// The same in the numbers of the drawing.
    fn put_in_place(&mut self, class: Class, path: BezPath) {
        // One line further out, so that the line along the cut is not seen.
        let line = self.figure.line;
        let frame = Rect::new(-line, -line, self.figure.width + line, self.figure.height + line);
        if let Some(path) = clipped(path, frame) {
            self.figure.shapes.push(Shape { class, d: rounded(&path) });
        }
    }

    /// Several outlines that melt into one.
    pub(super) fn melt(&mut self, class: Class, paths: impl IntoIterator<Item = BezPath>) {
        let all = paths.into_iter().flatten().collect();
        self.put(class, all);
    }

    pub(super) fn line(&mut self, class: Class, points: &[Point]) {
        self.put(class, line(points));
    }

    pub(super) fn area(&mut self, class: Class, points: &[Point]) {
        self.put(class, blob(points, true));
    }

    pub(super) fn disc(&mut self, class: Class, center: Point, radius: f64) {
        self.put(class, disc(center, radius));
    }

    /// An arrow that says which way it goes.
    pub(super) fn arrow(&mut self, from: Point, to: Point) {
        let head = self.figure.line * 5.0;
        self.put(Class::Good, arrow(from, to, head));
    }

    /// A straight piece of wood with round ends.
    pub(super) fn bar(&mut self, class: Class, from: Point, to: Point, width: f64) {
        self.put(class, limb(&[from, to], &[width / 2.0, width / 2.0], [End::Round, End::Round]));
    }

    /// Where a part is.
    pub(super) fn anchor(&mut self, part: Part, at: Point) {
        let p = self.place * at;
        if self.shows(p) {
            self.anchors.push((part, p));
        }
    }

    /// Whether a point of the drawing is in the frame.
    fn shows(&self, point: Point) -> bool {
        Rect::new(0.0, 0.0, self.figure.width, self.figure.height).contains(point)
    }

    /// A part touches something at a point, with the skin so far away from it.
    pub(super) fn touch(&mut self, part: Part, place: Place, at: Point, gap: f64) {
        let p = self.place * at;
        if !self.shows(p) {
            return;
        }
        self.figure.touches.push(Touch { part, place, x: tenths(p.x), y: tenths(p.y), gap });
        self.anchors.push((part, p));
    }

    /// The same where something in front hides it: it is said and not drawn.
    pub(super) fn touch_behind(&mut self, part: Part, place: Place, at: Point) {
        let before = self.figure.touches.len();
        self.touch(part, place, at, 0.0);
        self.hidden.extend(before..self.figure.touches.len());
    }

    /// The joints of something that bends, for those who check the drawing.
    pub(super) fn chain(&mut self, joints: &[Point], lengths: &[f64]) {
        let joints = joints.iter().map(|joint| self.place * *joint).collect();
        self.figure.chains.push((joints, lengths.to_vec()));
    }

    pub(super) fn finger(&mut self, finger: &Finger) {
        self.chain(&finger.joints, &finger.lengths);
    }

    /// A finger that grows out of a palm drawn before.
    pub(super) fn over_the_palm(&mut self, finger: &Finger) {
        let [root, joint] = [finger.joints[0], finger.joints[1]];
        let radius = finger.radii[0] - self.figure.line * 0.5;
        let (from, to) = (root - unit(joint - root) * radius * 0.5, root.lerp(joint, 0.42));
        let at_joint = finger.radii[1] - self.figure.line * 0.5;
        self.put(Class::Limb, finger.outline());
        self.put(
            Class::Skin,
            limb(&[from, to], &[radius, radius + (at_joint - radius) * 0.42], [End::Round, End::Round]),
        );
    }

    pub(super) fn label(&mut self, word: LabelWord, at: Point) {
        let p = self.place * at;
        if !self.shows(p) {
            return;
        }
        self.figure.labels.push(Label { word, x: tenths(p.x), y: tenths(p.y) });
    }

    /// The drawing, with a dot where something touches and a lozenge at what is amiss.
    pub(super) fn finished(mut self, amiss: &[Part]) -> Figure {
        let dot = self.dot();
        for at in 0..self.figure.touches.len() {
            let Touch { part, x, y, .. } = self.figure.touches[at];
            if !amiss.contains(&part) && !self.hidden.contains(&at) {
                self.put_in_place(Class::Touch, disc(Point::new(x, y), dot));
            }
        }
        for part in amiss {
            // The latest says best where it is.
            let at = self.anchors.iter().rev().find(|(anchored, _)| anchored == part).map(|(_, at)| *at);
            if let Some(at) = at {
                self.put_in_place(Class::Amiss, lozenge(at, dot * 1.75));
            }
        }
        self.figure
    }

    /// The parts that can be stressed.
    pub(super) fn parts(&self) -> impl Iterator<Item = Part> + '_ {
        self.anchors.iter().map(|(part, _)| *part)
    }
}

fn lozenge(at: Point, size: f64) -> BezPath {
    let (wide, high) = (Vec2::new(size * 0.78, 0.0), Vec2::new(0.0, size));
    blob(&[at - high, at + wide, at + high, at - wide], true)
}
