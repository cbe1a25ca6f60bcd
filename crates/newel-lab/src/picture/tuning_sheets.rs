//! A tuning on two sheets: its jumps with the gaps they cross, and its shapes with what they make of obstacles.

use newel::Tuning;
use plotters::backend::DrawingBackend;
use plotters::coord::Shift;
use plotters::prelude::*;

use super::Format;
use super::arc_panel::ArcPanel;
use super::canvas::{Drawn, SIZE, Sheet, render, title};
use super::gap_panel::GapPanel;
use super::obstacle_panel::ObstaclePanel;
use super::stance_panel::StancePanel;

/// Draws the jumps of a tuning, and how wide gaps may be.
///
/// # Errors
/// Only where a drawing backend fails.
pub fn jump_sheet(title: &str, tuning: &Tuning, format: Format) -> Result<Vec<u8>, Box<dyn std::error::Error>> {
    let (arcs, gaps) = (ArcPanel::new(tuning), GapPanel::new(tuning));
    render(&JumpSheet { title: format!("{title}: jumps"), arcs, gaps }, format)
}

/// Draws the stances of a tuning, and what comes of obstacles of any height.
///
/// # Errors
/// Only where a drawing backend fails.
pub fn shape_sheet(title: &str, tuning: &Tuning, format: Format) -> Result<Vec<u8>, Box<dyn std::error::Error>> {
    let (stances, obstacles) = (StancePanel::new(tuning), ObstaclePanel::new(tuning));
    render(&ShapeSheet { title: format!("{title}: shapes and obstacles"), stances, obstacles }, format)
}

struct JumpSheet {
    title: String,
    arcs: ArcPanel,
    gaps: GapPanel,
}

struct ShapeSheet {
    title: String,
    stances: StancePanel,
    obstacles: ObstaclePanel,
}

/// The upper and the lower half under the title: from where, and how high, pixels.
const UPPER: (i32, u32) = (38, 376);
const LOWER: (i32, u32) = (416, 380);

fn half<DB: DrawingBackend>(root: &DrawingArea<DB, Shift>, (top, high): (i32, u32)) -> DrawingArea<DB, Shift> {
    root.clone().shrink((0, top), (SIZE.0 - 8, high))
}

impl Sheet for JumpSheet {
    fn draw<DB: DrawingBackend>(&self, root: &DrawingArea<DB, Shift>) -> Drawn
    where
        DB::ErrorType: 'static,
    {
        title(root, self.title.clone())?;
        self.arcs.draw(&half(root, UPPER))?;
        self.gaps.draw(&root.clone().shrink((8, LOWER.0), (SIZE.0 - 16, LOWER.1)))
    }
}

impl Sheet for ShapeSheet {
    fn draw<DB: DrawingBackend>(&self, root: &DrawingArea<DB, Shift>) -> Drawn
    where
        DB::ErrorType: 'static,
    {
        title(root, self.title.clone())?;
        self.stances.draw(&half(root, UPPER))?;
        self.obstacles.draw(&half(root, LOWER))
    }
}
