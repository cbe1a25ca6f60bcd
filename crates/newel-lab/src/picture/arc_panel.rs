//! Jump arcs on a grid of metres: a dot every sixtieth of a second, and the character where it takes off, tops and lands.

use newel::Tuning;
use newel::glam::DVec3;
use plotters::backend::DrawingBackend;
use plotters::coord::Shift;
use plotters::prelude::*;

use super::canvas::{AIR, Drawn, FAINT, GROUND, INK, LINE, TEAL, font};
use super::chart::{heading, key, short};
use super::figure::draw_outline;
use crate::measure::{Arc, arcs};

/// Jump arcs of a tuning.
pub(super) struct ArcPanel {
    tuning: Tuning,
    arcs: Vec<Arc>,
}

/// Where the drawing is, pixels.
const FIELD: (i32, i32, i32, i32) = (70, 36, 900, 352);
/// Where the key is.
const KEY: (i32, i32) = (932, 60);
const COLOURS: [RGBColor; 5] = [GROUND, AIR, TEAL, RGBColor(150, 60, 140), FAINT];

/// Metres to pixels, the same both ways.
struct Scale {
    origin: (f64, f64),
    size: f64,
}

impl Scale {
    fn of(sheet: &ArcPanel) -> Scale {
        let shape = sheet.tuning.shape();
        let points = || sheet.arcs.iter().flat_map(|a| &a.places);
        let most = points().fold(DVec3::ZERO, |m, p| m.max(*p));
        let (wide, high) = (most.x + 4.0 * f64::from(shape.radius), most.y + f64::from(shape.height) + 0.3);
        let size = (f64::from(FIELD.2 - FIELD.0) / wide.max(1.0)).min(f64::from(FIELD.3 - FIELD.1) / high);
        let left = f64::from(FIELD.0) + 2.0 * f64::from(shape.radius) * size;
        Scale { origin: (left, f64::from(FIELD.3)), size }
    }

    fn at(&self, x: f64, y: f64) -> (i32, i32) {
        ((self.origin.0 + x * self.size) as i32, (self.origin.1 - y * self.size) as i32)
    }
}

impl ArcPanel {
    pub fn new(tuning: &Tuning) -> ArcPanel {
        ArcPanel { tuning: *tuning, arcs: arcs(tuning) }
    }

    fn grid<DB: DrawingBackend>(&self, root: &DrawingArea<DB, Shift>, scale: &Scale) -> Drawn
    where
        DB::ErrorType: 'static,
    {
        let part = if scale.size < 60.0 { 1.0 } else { 0.5 };
        let line = |metres: f64| LINE.mix(if metres.fract() == 0.0 { 1.0 } else { 0.5 });
        let mut x = ((f64::from(FIELD.0) - scale.origin.0) / scale.size / part).ceil() * part;
        while scale.at(x, 0.0).0 <= FIELD.2 {
            let at = scale.at(x, 0.0).0;
            root.draw(&PathElement::new(vec![(at, FIELD.1), (at, FIELD.3)], line(x)))?;
            if x.fract() == 0.0 {
                root.draw(&Text::new(short(x), (at - 4, FIELD.3 + 8), font(12.0)))?;
            }
            x += part;
        }
        let mut y = 0.0;
        while scale.at(0.0, y).1 >= FIELD.1 {
            let at = scale.at(0.0, y).1;
            root.draw(&PathElement::new(vec![(FIELD.0, at), (FIELD.2, at)], line(y)))?;
            if y.fract() == 0.0 {
                root.draw(&Text::new(short(y), (FIELD.0 - 24, at - 7), font(12.0)))?;
            }
            y += part;
        }
        let ground = vec![(FIELD.0, FIELD.3), (FIELD.2, FIELD.3)];
        root.draw(&PathElement::new(ground, INK.stroke_width(2)))?;
        root.draw(&Text::new("metres", (FIELD.2 - 44, FIELD.3 + 26), font(12.0)))?;
        Ok(())
    }

    /// The outline of the character with its feet at a place.
    fn silhouette<DB: DrawingBackend>(&self, root: &DrawingArea<DB, Shift>, scale: &Scale, at: DVec3) -> Drawn
    where
        DB::ErrorType: 'static,
    {
        draw_outline(root, &self.tuning.shape(), FAINT, |across, up| scale.at(at.x + across, at.y + up))
    }
}

impl ArcPanel {
    pub fn draw<DB: DrawingBackend>(&self, root: &DrawingArea<DB, Shift>) -> Drawn
    where
        DB::ErrorType: 'static,
    {
        heading(root, "jumps from standing and running: a dot every 1/60 s")?;
        if self.arcs.is_empty() {
            root.draw(&Text::new("This tuning has no jump.", (70, 100), font(16.0)))?;
            return Ok(());
        }
        let scale = Scale::of(self);
        self.grid(root, &scale)?;
        if let Some(arc) = self.arcs.iter().find(|arc| arc.places.iter().any(|p| p.x > 0.5)) {
            let top = arc.places.iter().copied().fold(DVec3::ZERO, |t, p| if p.y > t.y { p } else { t });
            for at in [DVec3::ZERO, top, arc.places[arc.places.len() - 1]] {
                self.silhouette(root, &scale, at)?;
            }
        }
        // The plainest on top.
        for (arc, colour) in self.arcs.iter().zip(COLOURS).collect::<Vec<_>>().into_iter().rev() {
            let points: Vec<_> = arc.places.iter().map(|p| scale.at(p.x, p.y)).collect();
            root.draw(&PathElement::new(points.clone(), colour.stroke_width(2)))?;
            let sixtieth = arc.rate / 60.0;
            for dot in points.iter().step_by(sixtieth as usize) {
                root.draw(&Circle::new(*dot, 3, colour.filled()))?;
            }
        }
        for (i, (arc, colour)) in self.arcs.iter().zip(COLOURS).enumerate() {
            let at = (KEY.0, KEY.1 + 24 * i as i32);
            let words = format!("{}: {:.2} m high, {:.2} s", arc.words, arc.height, arc.time);
            key(root, at, colour, &words)?;
        }
        Ok(())
    }
}
