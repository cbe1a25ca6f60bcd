//! Stances at scale: what each fits under, where its eyes are, and how fast it goes; and how far a slide leads.

use newel::{Stance, Tuning};
use plotters::backend::DrawingBackend;
use plotters::coord::Shift;
use plotters::prelude::*;

use super::canvas::{AIR, Drawn, FAINT, GROUND, INK, LINE, TEAL, font};
use super::chart::{heading, short};
use super::figure::draw_outline;
use crate::measure::{Slid, slid};

/// The stances of a tuning.
pub(super) struct StancePanel {
    tuning: Tuning,
    slid: Option<Slid>,
}

/// The floor from left to right, and the room above it at least, pixels.
const LEFT: i32 = 70;
const RIGHT: i32 = 820;
const ROOM: i32 = 264;
const FLOOR: i32 = 304;
/// And of the slide beside that.
const SLIDE: [i32; 2] = [860, 1250];
const COLOURS: [RGBColor; 3] = [GROUND, TEAL, AIR];

impl StancePanel {
    pub fn new(tuning: &Tuning) -> StancePanel {
        StancePanel { tuning: *tuning, slid: slid(tuning) }
    }

    fn stances(&self) -> Vec<Stance> {
        Stance::ALL.into_iter().filter(|s| !s.is_low() || self.tuning.low(*s).is_some()).collect()
    }

    /// Pixels to a metre.
    fn scale(&self) -> f64 {
        f64::from(ROOM) / (1.15 * f64::from(self.tuning.shape().height))
    }

    /// A line every tenth of a metre, with words every half.
    fn grid<DB: DrawingBackend>(&self, root: &DrawingArea<DB, Shift>) -> Drawn
    where
        DB::ErrorType: 'static,
    {
        let (left, right, floor, room) = (LEFT, RIGHT, FLOOR, f64::from(ROOM));
        let scale = self.scale();
        // Ten to twenty lines, whatever the size.
        let step = [0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1.0, 2.0, 5.0, 10.0, 20.0];
        let step = step.into_iter().find(|s| room / scale / s <= 20.0).unwrap_or(50.0);
        let mut line = 0;
        while f64::from(line) * step * scale <= room {
            let (up, y) = (f64::from(line) * step, floor - (f64::from(line) * step * scale) as i32);
            let named = line % 5 == 0;
            root.draw(&PathElement::new(vec![(left, y), (right, y)], LINE.mix(if named { 1.0 } else { 0.45 })))?;
            if named {
                root.draw(&Text::new(format!("{} m", short(up)), (left - 52, y - 7), font(12.0)))?;
            }
            line += 1;
        }
        root.draw(&PathElement::new(vec![(left, floor), (right, floor)], INK.stroke_width(2)))?;
        Ok(())
    }

    /// A figure with its ceiling and its eyes, and what there is to say below it.
    fn stance<DB: DrawingBackend>(
        &self,
        root: &DrawingArea<DB, Shift>,
        stance: Stance,
        x: i32,
        colour: RGBColor,
    ) -> Drawn
    where
        DB::ErrorType: 'static,
    {
        let (shape, floor, scale) = (self.tuning.shape_in(stance), FLOOR, self.scale());
        let pixels = |metres: f32| (f64::from(metres) * scale) as i32;
        draw_outline(root, &shape, colour, |across, up| (x + (across * scale) as i32, floor - (up * scale) as i32))?;
        let (half, top) = (pixels(shape.radius) + 24, floor - pixels(shape.height));
        root.draw(&Rectangle::new([(x - half, top - 9), (x + half, top - 1)], FAINT.mix(0.55).filled()))?;
        root.draw(&Text::new(format!("{:.2} m", shape.height), (x + half + 6, top - 13), font(13.0)))?;
        let eyes = self.tuning.eyes_in(stance);
        let level = floor - pixels(eyes);
        root.draw(&Circle::new((x, level), 4, colour.filled()))?;
        root.draw(&PathElement::new(vec![(x, level), (x + half, level)], colour.stroke_width(1)))?;
        root.draw(&Text::new(format!("eyes {eyes:.2} m"), (x + half + 6, level + 3), font(13.0).color(&colour)))?;
        let speed = self.tuning.values().ground.speed * self.tuning.low(stance).map_or(1.0, |low| low.speed);
        let lines = [
            stance.words().to_owned(),
            format!("{:.2} m wide, goes under {:.2} m", 2.0 * shape.radius, shape.height),
            format!("up to {speed:.2} m/s"),
        ];
        for (i, words) in lines.into_iter().enumerate() {
            let size = if i == 0 { 15.0 } else { 12.5 };
            root.draw(&Text::new(words, (x - half, floor + 10 + 18 * i as i32), font(size)))?;
        }
        Ok(())
    }

    /// A slide on the level at a scale of its own: the figure where it begins and ends, and each tenth of a second.
    fn slide<DB: DrawingBackend>(&self, root: &DrawingArea<DB, Shift>, slid: &Slid) -> Drawn
    where
        DB::ErrorType: 'static,
    {
        let (left, right, floor) = (SLIDE[0] + 20, SLIDE[1] - 40, FLOOR);
        let shape = self.tuning.shape_in(Stance::Crouch);
        let high = 60.0 / f64::from(shape.height);
        let scale = (f64::from(right - left) / slid.way.max(0.1)).min(high);
        let x = |way: f64| left + (way * scale) as i32;
        root.draw(&PathElement::new(vec![(SLIDE[0], floor), (SLIDE[1], floor)], INK.stroke_width(1)))?;
        let rate = self.tuning.values().slide.map_or(0.0, |s| f64::from(s.deceleration));
        let steps = (slid.time / 0.1) as u32;
        let times = (0..=steps).map(|i| 0.1 * f64::from(i)).chain([slid.time]);
        for time in times {
            let at = x(slid.speed * time - 0.5 * rate * time * time);
            draw_outline(root, &shape, TEAL, |across, up| (at + (across * scale) as i32, floor - (up * scale) as i32))?;
        }
        let words = [
            format!("slide on the level: from {:.2} m/s, {:.2} m in {:.2} s", slid.speed, slid.way, slid.time),
            "a figure every tenth of a second".to_owned(),
        ];
        for (i, words) in words.into_iter().enumerate() {
            root.draw(&Text::new(words, (SLIDE[0], floor - 120 + 20 * i as i32), font(13.0)))?;
        }
        root.draw(&Text::new("0 m", (x(0.0) - 8, floor + 6), font(12.0)))?;
        root.draw(&Text::new(format!("{:.2} m", slid.way), (x(slid.way) - 16, floor + 6), font(12.0)))?;
        Ok(())
    }
}

impl StancePanel {
    pub fn draw<DB: DrawingBackend>(&self, root: &DrawingArea<DB, Shift>) -> Drawn
    where
        DB::ErrorType: 'static,
    {
        heading(root, "stances at scale")?;
        self.grid(root)?;
        let stances = self.stances();
        let apart = (RIGHT - LEFT) / stances.len() as i32;
        for (i, (stance, colour)) in stances.into_iter().zip(COLOURS).enumerate() {
            self.stance(root, stance, LEFT + apart / 2 - 50 + apart * i as i32, colour)?;
        }
        match &self.slid {
            Some(slid) => self.slide(root, slid),
            None => Ok(()),
        }
    }
}
