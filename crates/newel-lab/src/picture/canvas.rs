//! Canvases of pictures: one drawing, kept as PNG or SVG.

use std::sync::Once;

use base64::Engine;
use plotters::backend::DrawingBackend;
use plotters::coord::Shift;
use plotters::prelude::*;
use plotters::style::{FontStyle, register_font};
use resvg::{tiny_skia, usvg};

use super::Format;
use super::relief::Relief;

/// The size of a picture, pixels.
pub(crate) const SIZE: (u32, u32) = (1280, 800);

/// Ink and paper.
pub(crate) const PAPER: RGBColor = RGBColor(252, 251, 248);
pub(crate) const INK: RGBColor = RGBColor(38, 42, 50);
pub(crate) const FAINT: RGBColor = RGBColor(120, 124, 132);
pub(crate) const LINE: RGBColor = RGBColor(214, 212, 206);
/// The path on the ground, and in the air.
pub(crate) const GROUND: RGBColor = RGBColor(24, 34, 74);
pub(crate) const AIR: RGBColor = RGBColor(208, 70, 24);

/// A bitmap that belongs at a place of the picture.
pub(crate) struct Inset {
    pub at: (i32, i32),
    pub relief: Relief,
}

/// A third line beside those.
pub(crate) const TEAL: RGBColor = RGBColor(0, 128, 112);

/// In water.
pub(crate) const BLUE: RGBColor = RGBColor(46, 120, 176);

/// Any drawing; an error of the backend is all that can go wrong.
pub(crate) type Drawn = Result<(), Box<dyn std::error::Error>>;

/// Something that can be drawn over its bitmaps.
pub(crate) trait Sheet {
    /// The bitmaps, drawn first.
    fn insets(&self) -> &[Inset] {
        &[]
    }
    /// Everything else.
    fn draw<DB: DrawingBackend>(&self, root: &DrawingArea<DB, Shift>) -> Drawn
    where
        DB::ErrorType: 'static;
}

/// Draws a sheet in the format asked for: as SVG, and for a bitmap from that.
pub(crate) fn render(sheet: &impl Sheet, format: Format) -> Result<Vec<u8>, Box<dyn std::error::Error>> {
    load_fonts();
    let mut text = String::new();
    {
        let root = SVGBackend::with_string(&mut text, SIZE).into_drawing_area();
        sheet.draw(&root)?;
        root.present()?;
    }
    match format {
        Format::Png => rastered(&text, sheet.insets()),
        Format::Svg => with_images(text, sheet.insets()),
    }
}

/// The name of the fonts, as the pictures ask for them.
const FONT: &str = "sans-serif";

/// Tells the drawing crate how wide letters are.
fn load_fonts() {
    static ONCE: Once = Once::new();
    ONCE.call_once(|| {
        for (style, bytes) in [(FontStyle::Normal, dejavu::sans::regular()), (FontStyle::Bold, dejavu::sans::bold())] {
            // The fonts are compiled in and valid; a refusal would only show as missing text.
            let _ = register_font(FONT, style, bytes);
        }
    });
}

/// The bitmap of a drawing over its insets.
fn rastered(svg: &str, insets: &[Inset]) -> Result<Vec<u8>, Box<dyn std::error::Error>> {
    let mut options = usvg::Options::default();
    let fonts = options.fontdb_mut();
    fonts.load_font_data(dejavu::sans::regular().to_vec());
    fonts.load_font_data(dejavu::sans::bold().to_vec());
    fonts.set_sans_serif_family("DejaVu Sans");
    let tree = usvg::Tree::from_str(svg, &options)?;
    let (width, height) = SIZE;
    let mut pixels = vec![0; (width * height * 4) as usize];
    pixels.chunks_exact_mut(4).for_each(|p| p.copy_from_slice(&[PAPER.0, PAPER.1, PAPER.2, u8::MAX]));
    for inset in insets {
        inset.relief.copy_into(&mut pixels, width as usize, inset.at);
    }
    let mut map = tiny_skia::PixmapMut::from_bytes(&mut pixels, width, height).ok_or("the picture has no size")?;
    resvg::render(&tree, tiny_skia::Transform::identity(), &mut map);
    let opaque: Vec<u8> = pixels.chunks_exact(4).flat_map(|p| [p[0], p[1], p[2]]).collect();
    encode_png(&opaque, width, height)
}

fn encode_png(pixels: &[u8], width: u32, height: u32) -> Result<Vec<u8>, Box<dyn std::error::Error>> {
    let mut bytes = Vec::new();
    let mut encoder = png::Encoder::new(&mut bytes, width, height);
    encoder.set_color(png::ColorType::Rgb);
    encoder.set_depth(png::BitDepth::Eight);
    encoder.set_compression(png::Compression::High);
    encoder.write_header()?.write_image_data(pixels)?;
    Ok(bytes)
}

/// The drawing with its insets in it.
fn with_images(mut text: String, insets: &[Inset]) -> Result<Vec<u8>, Box<dyn std::error::Error>> {
    // The backend knows no images: they go in right after the opening tag, under all that is drawn.
    let open = text.find("<svg").and_then(|i| text[i..].find('>').map(|j| i + j + 1)).unwrap_or(0);
    let mut images =
        format!("\n<rect width=\"100%\" height=\"100%\" fill=\"rgb({},{},{})\"/>", PAPER.0, PAPER.1, PAPER.2);
    for inset in insets {
        let (width, height) = inset.relief.size();
        let png = encode_png(inset.relief.pixels(), width as u32, height as u32)?;
        let data = base64::engine::general_purpose::STANDARD.encode(png);
        let (x, y) = inset.at;
        images += &format!(
            "\n<image x=\"{x}\" y=\"{y}\" width=\"{width}\" height=\"{height}\" href=\"data:image/png;base64,{data}\"/>"
        );
    }
    text.insert_str(open, &images);
    Ok(text.into_bytes())
}

/// Text of a size, in ink.
pub(crate) fn font(size: f64) -> TextStyle<'static> {
    (FONT, size).into_font().color(&INK)
}

/// The title of a sheet.
pub(crate) fn title<DB: DrawingBackend>(root: &DrawingArea<DB, Shift>, words: String) -> Drawn
where
    DB::ErrorType: 'static,
{
    let bold = (FONT, 22.0, FontStyle::Bold).into_font().color(&INK);
    root.draw(&Text::new(words, (20, 12), bold))?;
    Ok(())
}
