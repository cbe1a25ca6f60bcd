//! What the picture of a run is made of, and its key explains: marks, dashes, colours.

use newel::glam::Vec3;
use plotters::backend::DrawingBackend;
use plotters::coord::Shift;
use plotters::prelude::*;

use super::canvas::{AIR, Drawn, PAPER};
use super::view::Frame;
use crate::trace::Row;

/// The colour of planned routes.
pub(super) const PLANNED: RGBColor = RGBColor(247, 198, 64);

/// True where its shape and the way it points are as they always were.
pub(super) fn is_as_ever(row: &Row, axis: Vec3) -> bool {
    !row.stance.is_low() && row.axis == axis
}

/// Whether a pixel is in the frame.
pub(super) fn inside(frame: &Frame, (x, y): (i32, i32)) -> bool {
    let (w, h) = frame.size();
    (frame.at.0..=frame.at.0 + w as i32).contains(&x) && (frame.at.1..=frame.at.1 + h as i32).contains(&y)
}

/// Cuts a line into dashes of 8 pixels with gaps of 5.
pub(super) fn dashes(points: &[(i32, i32)]) -> Vec<Vec<(i32, i32)>> {
    let (on, off) = (8.0, 5.0);
    let mut pieces = Vec::new();
    let mut piece: Vec<(i32, i32)> = points.first().copied().into_iter().collect();
    let (mut left, mut drawing) = (on, true);
    for pair in points.windows(2) {
        let way = (f64::from(pair[1].0 - pair[0].0), f64::from(pair[1].1 - pair[0].1));
        let length = way.0.hypot(way.1);
        let mut done = 0.0;
        while length - done > left {
            done += left;
            let at = |d: f64| (pair[0].0 + (way.0 * d / length) as i32, pair[0].1 + (way.1 * d / length) as i32);
            if drawing {
                piece.push(at(done));
                pieces.push(std::mem::take(&mut piece));
            } else {
                piece = vec![at(done)];
            }
            drawing = !drawing;
            left = if drawing { on } else { off };
        }
        left -= length - done;
        if drawing {
            piece.push(pair[1]);
        }
    }
    if piece.len() > 1 {
        pieces.push(piece);
    }
    pieces
}

/// What happened at a mark.
#[derive(Clone, Copy, PartialEq)]
pub(super) enum MarkKind {
    Jump,
    Fall,
    Land,
}

/// Draws a mark.
pub(super) fn mark<DB: DrawingBackend>(root: &DrawingArea<DB, Shift>, (x, y): (i32, i32), kind: MarkKind) -> Drawn
where
    DB::ErrorType: 'static,
{
    let shape = match kind {
        MarkKind::Jump => vec![(x - 6, y + 5), (x + 6, y + 5), (x, y - 6)],
        MarkKind::Fall => vec![(x - 6, y - 5), (x + 6, y - 5), (x, y + 6)],
        MarkKind::Land => vec![(x - 5, y - 5), (x + 5, y - 5), (x + 5, y + 5), (x - 5, y + 5)],
    };
    let mut rim = shape.clone();
    rim.push(shape[0]);
    root.draw(&Polygon::new(shape, if kind == MarkKind::Land { PAPER.filled() } else { AIR.filled() }))?;
    root.draw(&PathElement::new(
        rim,
        if kind == MarkKind::Land { AIR.stroke_width(2) } else { PAPER.stroke_width(1) },
    ))?;
    Ok(())
}
