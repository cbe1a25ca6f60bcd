//! Terrain seen straight on: triangles drawn by depth, lit from one side, outlined where the depth jumps.

use newel::glam::DVec3;
use newel::{Effect, WaterSurface, Zone};

use super::view::Frame;
use crate::course::Scene;

/// A drawn terrain: pixels of red, green and blue.
pub(crate) struct Relief {
    width: usize,
    height: usize,
    pixels: Vec<u8>,
}

/// Every pixel is drawn from this many by this many finer ones.
const FINE: usize = 2;
/// Where there is nothing: the sky from the side, the deep from above.
const SKY: [f32; 3] = [0.95, 0.96, 0.97];
const SEA: [f32; 3] = [0.42, 0.60, 0.68];
/// A jump in depth of this many metres is drawn as an outline.
const OUTLINE: f32 = 0.12;

/// The finer image while it is drawn.
struct Canvas {
    width: usize,
    height: usize,
    depth: Vec<f32>,
    colour: Vec<[f32; 3]>,
}

impl Relief {
    /// Draws a scene as `frame` sees it, with its water; the sea is all round it.
    pub fn draw(scene: &Scene, frame: &Frame, with_sea: bool) -> Relief {
        let (width, height) = frame.size();
        let mut canvas = Canvas::new(width * FINE, height * FINE);
        // A low sun from the upper left of the picture, and some light from the eye.
        let light = frame.right() * -0.55 + frame.down() * -0.45 + frame.toward() * 0.70;
        let light = light / light.length();
        for (corners, surface) in scene.solids.corners(0.0) {
            let normal = (corners[1] - corners[0]).cross(corners[2] - corners[0]);
            let normal = normal / normal.length().max(1e-12);
            let facing = if normal.dot(frame.toward()) < 0.0 { -normal } else { normal };
            let lit = 0.45 + 0.62 * facing.dot(light).max(0.0) as f32;
            let base = scene.colours.get(usize::from(surface)).copied().unwrap_or([0.7; 3]);
            canvas.triangle(corners.map(|c| frame.fine(c, FINE)), base.map(|c| c * lit));
        }
        canvas.outline();
        for zone in scene.solids.zones() {
            if let Some((min, max)) = filled(zone) {
                canvas.flood(frame, min, max);
            }
        }
        canvas.shrink(frame.is_plan() && with_sea)
    }

    /// Width and height, pixels.
    pub fn size(&self) -> (usize, usize) {
        (self.width, self.height)
    }

    /// The pixels, row by row.
    pub fn pixels(&self) -> &[u8] {
        &self.pixels
    }

    /// Copies it into a larger picture that is `stride` pixels wide.
    pub fn copy_into(&self, target: &mut [u8], stride: usize, at: (i32, i32)) {
        for row in 0..self.height {
            let from = &self.pixels[row * self.width * 3..][..self.width * 3];
            let to = ((row + at.1 as usize) * stride + at.0 as usize) * 4;
            let to = &mut target[to..to + self.width * 4];
            to.chunks_exact_mut(4).zip(from.chunks_exact(3)).for_each(|(to, from)| to[..3].copy_from_slice(from));
        }
    }
}

/// The box that a zone's water fills, if it has any whose surface is level.
fn filled(zone: &Zone) -> Option<(DVec3, DVec3)> {
    let Effect::Water(water) = zone.effect else { return None };
    match water.surface {
        WaterSurface::Flat { through, up } if up.y > 0.999 => {
            Some((zone.min, DVec3::new(zone.max.x, zone.max.y.min(through.y), zone.max.z)))
        }
        WaterSurface::Border => Some((zone.min, zone.max)),
        _ => None,
    }
}

impl Canvas {
    fn new(width: usize, height: usize) -> Canvas {
        let count = width * height;
        Canvas { width, height, depth: vec![f32::INFINITY; count], colour: vec![SKY; count] }
    }

    /// Fills a triangle given as pixel across, pixel down, and depth away from the eye in metres.
    fn triangle(&mut self, [a, b, c]: [DVec3; 3], colour: [f32; 3]) {
        let area = (b.x - a.x) * (c.y - a.y) - (b.y - a.y) * (c.x - a.x);
        if area.abs() < 1e-9 {
            return;
        }
        let low = a.min(b).min(c).floor();
        let high = a.max(b).max(c).ceil();
        let columns = low.x.max(0.0) as usize..(high.x.max(0.0) as usize).min(self.width);
        for y in low.y.max(0.0) as usize..(high.y.max(0.0) as usize).min(self.height) {
            for x in columns.clone() {
                let (px, py) = (x as f64 + 0.5, y as f64 + 0.5);
                let u = ((b.x - px) * (c.y - py) - (b.y - py) * (c.x - px)) / area;
                let v = ((c.x - px) * (a.y - py) - (c.y - py) * (a.x - px)) / area;
                let w = 1.0 - u - v;
                if u < 0.0 || v < 0.0 || w < 0.0 {
                    continue;
                }
                let depth = (u * a.z + v * b.z + w * c.z) as f32;
                let index = y * self.width + x;
                if depth < self.depth[index] {
                    self.depth[index] = depth;
                    self.colour[index] = colour;
                }
            }
        }
    }

    /// Darkens what lies behind a jump in depth.
    fn outline(&mut self) {
        let depth = &self.depth;
        for y in 1..self.height {
            for x in 1..self.width {
                let here = depth[y * self.width + x];
                let beside = depth[y * self.width + x - 1].min(depth[(y - 1) * self.width + x]);
                let jump = if here.is_finite() { here - beside } else { 0.0 };
                if jump > OUTLINE {
                    let shade = 1.0 - 0.45 * (jump / 0.8).min(1.0);
                    self.colour[y * self.width + x] = self.colour[y * self.width + x].map(|c| c * shade);
                }
            }
        }
    }

    /// Lays water over what is in it: deeper is bluer.
    fn flood(&mut self, frame: &Frame, min: DVec3, max: DVec3) {
        for y in 0..self.height {
            for x in 0..self.width {
                let index = y * self.width + x;
                let seen = frame.seen_at(x, y, self.depth[index], FINE);
                // Across the picture it fills its box; into it, all that is seen through it.
                let inside = |axis: usize| {
                    let along = frame.toward()[axis].abs() > 0.5;
                    along || (min[axis]..=max[axis]).contains(&seen[axis])
                };
                let empty = frame.is_plan() && self.depth[index].is_infinite();
                let under = if empty { f32::INFINITY } else { (max.y - seen.y) as f32 };
                if inside(0) && inside(2) && under > 0.0 && (frame.is_plan() || inside(1)) {
                    let seen = self.depth[index].is_finite();
                    // From the side one looks through it.
                    let part = match frame.is_plan() {
                        _ if !seen => 1.0,
                        true => (0.35 + 0.25 * under).min(1.0),
                        false => (0.4 + 0.06 * under).min(0.7),
                    };
                    for (c, sea) in self.colour[index].iter_mut().zip(SEA) {
                        *c += (sea - *c) * part;
                    }
                }
            }
        }
    }

    fn shrink(&self, sea_around: bool) -> Relief {
        let (width, height) = (self.width / FINE, self.height / FINE);
        let mut pixels = Vec::with_capacity(width * height * 3);
        for y in 0..height {
            for x in 0..width {
                let mut sum = [0.0; 3];
                for k in 0..FINE * FINE {
                    let index = (y * FINE + k / FINE) * self.width + x * FINE + k % FINE;
                    let empty = sea_around && self.depth[index].is_infinite();
                    let colour = if empty { SEA } else { self.colour[index] };
                    sum.iter_mut().zip(colour).for_each(|(s, c)| *s += c);
                }
                pixels.extend(sum.map(|s| (s / (FINE * FINE) as f32 * 255.0).clamp(0.0, 255.0) as u8));
            }
        }
        Relief { width, height, pixels }
    }
}
