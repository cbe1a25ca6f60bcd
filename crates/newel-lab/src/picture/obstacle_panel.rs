//! Results at an obstacle by its height and the approach.

use newel::Tuning;
use plotters::backend::DrawingBackend;
use plotters::coord::Shift;
use plotters::prelude::*;

use super::canvas::{AIR, Drawn, FAINT, GROUND, INK, PAPER, SIZE, TEAL, font};
use super::chart::heading;
use crate::measure::{Band, Obstacles, Passage, obstacles};

/// Results at obstacles.
pub(super) struct ObstaclePanel {
    obstacles: Vec<Obstacles>,
}

/// Where heights are drawn, pixels from the top; and how wide a column is.
const TOP: i32 = 68;
const BOTTOM: i32 = 330;
/// The key, pixels from the top.
const KEY: i32 = 344;
const LEFT: i32 = 92;
const WIDE: i32 = 96;
const APART: i32 = 128;

/// The letter, the colour and how close the lines of its hatch are; none for a plain one.
fn look(passage: Passage) -> (&'static str, RGBColor, Option<i32>) {
    match passage {
        Passage::Step => ("S", GROUND, None),
        Passage::Jump => ("J", AIR, None),
        Passage::Vault => ("V", TEAL, Some(7)),
        Passage::Climb => ("C", GROUND, Some(7)),
        Passage::Catch => ("H", AIR, Some(7)),
        Passage::Blocked => ("B", FAINT, Some(22)),
    }
}

impl ObstaclePanel {
    pub fn new(tuning: &Tuning) -> ObstaclePanel {
        ObstaclePanel { obstacles: obstacles(tuning) }
    }

    pub fn draw<DB: DrawingBackend>(&self, root: &DrawingArea<DB, Shift>) -> Drawn
    where
        DB::ErrorType: 'static,
    {
        heading(root, "what it makes of an obstacle, by its height")?;
        let bands = || self.obstacles.iter().flat_map(|o| &o.bands).flat_map(|(_, bands)| bands);
        let high = bands().map(|b| b.to).max().unwrap_or(1);
        let y = |cm: u32| BOTTOM - ((BOTTOM - TOP) as f64 * f64::from(cm) / f64::from(high)) as i32;
        for cm in (0..=high).step_by(50) {
            root.draw(&PathElement::new(vec![(LEFT - 6, y(cm)), (SIZE.0 as i32 - 150, y(cm))], FAINT.mix(0.4)))?;
            root.draw(&Text::new(format!("{cm:>4} cm"), (LEFT - 64, y(cm) - 8), font(13.0)))?;
        }
        for (i, obstacles) in self.obstacles.iter().enumerate() {
            let left = LEFT + i as i32 * (4 * APART + 10);
            let words = obstacles.deep.map_or("a block without end".to_owned(), |d| format!("a wall {d} m thick"));
            root.draw(&Text::new(words, (left, 30), font(13.0)))?;
            for (k, (approach, bands)) in obstacles.bands.iter().enumerate() {
                let x = left + k as i32 * APART;
                root.draw(&Text::new(approach.words(), (x, 48), font(12.0)))?;
                for band in bands {
                    draw_band(root, x, (y(band.to), y(band.from - 1)), band)?;
                }
            }
        }
        draw_key(root)
    }
}

fn draw_band<DB: DrawingBackend>(root: &DrawingArea<DB, Shift>, x: i32, (top, low): (i32, i32), band: &Band) -> Drawn
where
    DB::ErrorType: 'static,
{
    let (letter, colour, hatch) = look(band.passage);
    fill(root, [(x, top), (x + WIDE, low)], colour, hatch)?;
    // Only where there is room for it.
    if low - top >= 18 {
        let middle = (top + low) / 2;
        let back = [(x + 4, middle - 9), (x + 78, middle + 9)];
        root.draw(&Rectangle::new(back, PAPER.filled()))?;
        root.draw(&Text::new(letter, (x + 8, middle - 6), font(14.0).color(&INK)))?;
        root.draw(&Text::new(format!("{}–{}", band.from, band.to), (x + 24, middle - 5), font(12.0).color(&INK)))?;
    }
    Ok(())
}

/// A box of a colour, or of lines of it.
fn fill<DB: DrawingBackend>(
    root: &DrawingArea<DB, Shift>,
    [(x0, y0), (x1, y1)]: [(i32, i32); 2],
    colour: RGBColor,
    hatch: Option<i32>,
) -> Drawn
where
    DB::ErrorType: 'static,
{
    if let Some(apart) = hatch {
        root.draw(&Rectangle::new([(x0, y0), (x1, y1)], colour.mix(0.14).filled()))?;
        for start in (x0 - (y1 - y0)..x1).step_by(apart as usize) {
            // From the lower left to the upper right, cut off at the sides.
            let (from, to) = (start.max(x0), (start + (y1 - y0)).min(x1));
            if from < to {
                let line = vec![(from, y1 - (from - start)), (to, y1 - (to - start))];
                root.draw(&PathElement::new(line, colour.stroke_width(2)))?;
            }
        }
    } else {
        root.draw(&Rectangle::new([(x0, y0), (x1, y1)], colour.mix(0.6).filled()))?;
    }
    root.draw(&Rectangle::new([(x0, y0), (x1, y1)], INK))?;
    Ok(())
}

fn draw_key<DB: DrawingBackend>(root: &DrawingArea<DB, Shift>) -> Drawn
where
    DB::ErrorType: 'static,
{
    for (i, passage) in Passage::ALL.into_iter().enumerate() {
        let (letter, colour, hatch) = look(passage);
        let (x, y) = (LEFT + 190 * i as i32, KEY);
        fill(root, [(x, y), (x + 40, y + 24)], colour, hatch)?;
        let words = match passage {
            Passage::Step => "step, in stride",
            Passage::Jump => "the jump clears it",
            Passage::Vault => "vault, over it",
            Passage::Climb => "climb, up onto it",
            Passage::Catch => "hang, by its edge",
            Passage::Blocked => "blocked",
        };
        root.draw(&Text::new(format!("{letter}  {words}"), (x + 48, y + 4), font(13.0).color(&INK)))?;
    }
    Ok(())
}
