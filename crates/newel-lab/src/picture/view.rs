//! Where a view looks from, and what of the world it shows at what scale.

use newel::glam::DVec3;

/// A rectangle of the picture that shows part of the world straight on, at one scale for both directions.
#[derive(Debug, Clone)]
pub(crate) struct Frame {
    /// The upper left corner in the picture, pixels.
    pub at: (i32, i32),
    size: (usize, usize),
    right: DVec3,
    down: DVec3,
    toward: DVec3,
    /// The world point in the middle of the frame.
    middle: DVec3,
    /// Pixels to a metre.
    pub scale: f64,
}

/// Room around what is shown, in parts of its size.
const MARGIN: f64 = 0.10;
/// No view shows less than this, metres.
const LEAST: f64 = 4.0;

impl Frame {
    /// From above: +x to the right, -z up the page.
    pub fn plan(at: (i32, i32), size: (usize, usize), points: &[DVec3]) -> Frame {
        Frame::new(at, size, (DVec3::X, DVec3::Z, DVec3::Y), points)
    }

    /// From the side across which the points extend most.
    pub fn side(at: (i32, i32), size: (usize, usize), points: &[DVec3]) -> Frame {
        let (min, max) = bounds(points);
        let along_x = max.x - min.x >= max.z - min.z;
        // Looking north with the east on the right, or looking west with the north on the right.
        let axes = if along_x { (DVec3::X, -DVec3::Y, DVec3::Z) } else { (-DVec3::Z, -DVec3::Y, DVec3::X) };
        let mut frame = Frame::new(at, size, axes, points);
        // Spare height goes to what is above: more sky, less of what lies under the ground.
        let spare = size.1 as f64 / frame.scale - (max.y - min.y) * (1.0 + 2.0 * MARGIN);
        frame.middle.y += 0.25 * spare.max(0.0);
        frame
    }

    fn new(at: (i32, i32), size: (usize, usize), axes: (DVec3, DVec3, DVec3), points: &[DVec3]) -> Frame {
        let (right, down, toward) = axes;
        let (min, max) = bounds(points);
        let middle = (min + max) / 2.0;
        let extent = |axis: DVec3| ((max - min).dot(axis).abs() * (1.0 + 2.0 * MARGIN)).max(LEAST);
        let scale = (size.0 as f64 / extent(right)).min(size.1 as f64 / extent(down));
        Frame { at, size, right, down, toward, middle, scale }
    }

    /// Width and height, pixels.
    pub fn size(&self) -> (usize, usize) {
        self.size
    }

    /// The world's direction to the right of the picture.
    pub fn right(&self) -> DVec3 {
        self.right
    }

    /// The world's direction down the picture.
    pub fn down(&self) -> DVec3 {
        self.down
    }

    /// The world's direction toward the eye.
    pub fn toward(&self) -> DVec3 {
        self.toward
    }

    /// True for the view from above.
    pub fn is_plan(&self) -> bool {
        self.toward == DVec3::Y
    }

    /// The direction in the picture's plane that is square to `axis`.
    pub fn beside(&self, axis: DVec3) -> DVec3 {
        axis.cross(self.toward).try_normalize().unwrap_or(self.right)
    }

    /// Where a world point is in the picture, pixels.
    pub fn pixel(&self, point: DVec3) -> (i32, i32) {
        let fine = self.fine(point, 1);
        (self.at.0 + fine.x.round() as i32, self.at.1 + fine.y.round() as i32)
    }

    /// The same within the frame, `fine` times finer, with the depth away from the eye in metres.
    pub fn fine(&self, point: DVec3, fine: usize) -> DVec3 {
        let off = point - self.middle;
        let scale = self.scale * fine as f64;
        let half = (self.size.0 as f64 * fine as f64 / 2.0, self.size.1 as f64 * fine as f64 / 2.0);
        DVec3::new(half.0 + off.dot(self.right) * scale, half.1 + off.dot(self.down) * scale, -off.dot(self.toward))
    }

    /// The world point that a fine pixel shows, this deep away from the eye, metres.
    pub fn seen_at(&self, x: usize, y: usize, depth: f32, fine: usize) -> DVec3 {
        let scale = self.scale * fine as f64;
        let off = |at: usize, size: usize| (at as f64 + 0.5 - size as f64 * fine as f64 / 2.0) / scale;
        let deep = if depth.is_finite() { f64::from(depth) } else { 0.0 };
        self.middle + self.right * off(x, self.size.0) + self.down * off(y, self.size.1) - self.toward * deep
    }

    /// A round number of metres that makes a scale bar of about a sixth of the width.
    pub fn bar(&self) -> f64 {
        let wanted = self.size.0 as f64 / 6.0 / self.scale;
        let power = 10f64.powf(wanted.log10().floor());
        [5.0, 2.0, 1.0].into_iter().map(|m| m * power).find(|b| *b <= wanted).unwrap_or(power)
    }
}

fn bounds(points: &[DVec3]) -> (DVec3, DVec3) {
    points.iter().fold((DVec3::INFINITY, DVec3::NEG_INFINITY), |(a, b), p| (a.min(*p), b.max(*p)))
}
