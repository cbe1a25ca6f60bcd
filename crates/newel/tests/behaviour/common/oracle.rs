//! Distances in double precision, sharing no code with the library.

use newel::glam::DVec3;

/// The distance between a segment and a triangle: the least over the segment's crossing, its ends against the face,
/// and the segment against the three edges.
pub fn segment_to_triangle(p: DVec3, q: DVec3, t: [DVec3; 3]) -> f64 {
    let n = (t[1] - t[0]).cross(t[2] - t[0]);
    let inside = |x: DVec3| (0..3).all(|i| n.dot((t[(i + 1) % 3] - t[i]).cross(x - t[i])) >= 0.0);
    let (hp, hq) = (n.dot(p - t[0]), n.dot(q - t[0]));
    if hp * hq <= 0.0 && hp != hq && inside(p + (q - p) * (hp / (hp - hq))) {
        return 0.0;
    }
    let ends = [(p, hp), (q, hq)].into_iter().filter(|(end, _)| inside(*end)).map(|(_, h)| h.abs() / n.length());
    let edges = (0..3).map(|i| segment_to_segment(p, q, t[i], t[(i + 1) % 3]));
    ends.chain(edges).fold(f64::INFINITY, f64::min)
}

/// The distance between two segments: the least of the inner solution, if there is one, and each end against the other.
pub fn segment_to_segment(p: DVec3, q: DVec3, a: DVec3, b: DVec3) -> f64 {
    let ends = point_to_segment(p, a, b)
        .min(point_to_segment(q, a, b))
        .min(point_to_segment(a, p, q))
        .min(point_to_segment(b, p, q));
    let (u, v, w) = (q - p, b - a, p - a);
    let (uu, uv, vv, uw, vw) = (u.dot(u), u.dot(v), v.dot(v), u.dot(w), v.dot(w));
    let size = uu * vv - uv * uv;
    if size <= 1e-14 * uu * vv {
        return ends;
    }
    let (s, t) = ((uv * vw - vv * uw) / size, (uu * vw - uv * uw) / size);
    let inner = (0.0..=1.0).contains(&s) && (0.0..=1.0).contains(&t);
    if inner { ends.min((w + u * s - v * t).length()) } else { ends }
}

fn point_to_segment(x: DVec3, from: DVec3, to: DVec3) -> f64 {
    let square = (to - from).length_squared();
    let along = if square > 0.0 { ((x - from).dot(to - from) / square).clamp(0.0, 1.0) } else { 0.0 };
    (x - (from + (to - from) * along)).length()
}

/// Random numbers from a seed (SplitMix64, by Steele, Lea and Flood).
pub struct Dice(pub u64);

impl Dice {
    /// Between 0 and 1.
    pub fn unit(&mut self) -> f64 {
        self.0 = self.0.wrapping_add(0x9E37_79B9_7F4A_7C15);
        let mut z = self.0;
        z = (z ^ (z >> 30)).wrapping_mul(0xBF58_476D_1CE4_E5B9);
        z = (z ^ (z >> 27)).wrapping_mul(0x94D0_49BB_1331_11EB);
        ((z ^ (z >> 31)) >> 11) as f64 / (1u64 << 53) as f64
    }

    /// Between `least` and `most`.
    pub fn between(&mut self, least: f64, most: f64) -> f64 {
        least + (most - least) * self.unit()
    }

    /// Between `least` and `most`, every order of magnitude as likely.
    pub fn magnitude(&mut self, least: f64, most: f64) -> f64 {
        (self.between(least.ln(), most.ln())).exp()
    }

    /// One of the first `count` numbers.
    pub fn pick(&mut self, count: usize) -> usize {
        ((self.unit() * count as f64) as usize).min(count - 1)
    }

    /// A unit vector, every direction as likely.
    pub fn direction(&mut self) -> DVec3 {
        loop {
            let v = DVec3::new(self.between(-1.0, 1.0), self.between(-1.0, 1.0), self.between(-1.0, 1.0));
            if (0.01..1.0).contains(&v.length_squared()) {
                return v / v.length();
            }
        }
    }
}
