//! Writing a sheet as SVG. Texts stay texts, so that they can be searched and read aloud.

use crate::font::{self, Face};
use crate::path::{Part, Path};
use crate::sheet::{Colour, Line, Mark, Sheet, Text};
use std::fmt::Write as _;

impl Sheet {
    /// The picture as an SVG file. The same sheet gives the same bytes.
    #[must_use]
    pub fn to_svg(&self) -> String {
        let mut svg = String::new();
        let (width, height) = (self.width, self.height);
        let title = escape(&self.title);
        // Writing to a string cannot fail.
        let _ = writeln!(
            svg,
            "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{width}\" height=\"{height}\" \
             viewBox=\"0 0 {width} {height}\" role=\"img\">\n<title>{title}</title>\n\
             <rect width=\"{width}\" height=\"{height}\" fill=\"#ffffff\"/>"
        );
        for (number, mark) in self.marks.iter().enumerate() {
            write_mark(&mut svg, number, mark);
        }
        svg.push_str("</svg>\n");
        svg
    }
}

fn write_mark(svg: &mut String, number: usize, mark: &Mark) {
    let _ = match mark {
        Mark::Fill(path, colour) => {
            writeln!(
                svg,
                "<path d=\"{}\" {}/>",
                data(path),
                paint("fill", *colour)
            )
        }
        Mark::Stroke(path, line) => {
            writeln!(
                svg,
                "<path d=\"{}\" fill=\"none\" {}/>",
                data(path),
                stroke(line)
            )
        }
        Mark::Text(text) => write_text(svg, text),
        Mark::Clip(rect) => {
            let size = rect.size();
            writeln!(
                svg,
                "<clipPath id=\"clip{number}\"><rect x=\"{}\" y=\"{}\" width=\"{}\" \
                 height=\"{}\"/></clipPath>\n<g clip-path=\"url(#clip{number})\">",
                rect.min.x, rect.min.y, size.x, size.y
            )
        }
        Mark::Unclip => writeln!(svg, "</g>"),
    };
}

fn write_text(svg: &mut String, text: &Text) -> std::fmt::Result {
    let weight = match text.face {
        Face::Regular => "normal",
        Face::Bold => "bold",
    };
    let halo = text.halo.map_or_else(String::new, |colour| {
        let rim = stroke(&Line::new(colour, 3.0));
        format!(" paint-order=\"stroke\" {rim}")
    });
    // The length keeps the layout where the font is missing.
    let length = font::width(&text.text, text.face, text.px);
    writeln!(
        svg,
        "<text x=\"{:.2}\" y=\"{:.2}\" textLength=\"{length:.2}\" \
         lengthAdjust=\"spacingAndGlyphs\" font-family=\"B612, 'DejaVu Sans', sans-serif\" \
         font-weight=\"{weight}\" font-size=\"{}\" {}{halo}>{}</text>",
        text.at.x,
        text.at.y,
        text.px,
        paint("fill", text.colour),
        escape(&text.text),
    )
}

fn data(path: &Path) -> String {
    let mut data = String::new();
    for part in &path.parts {
        let _ = match *part {
            Part::Move(p) => write!(data, "M{:.2} {:.2}", p.x, p.y),
            Part::Line(p) => write!(data, "L{:.2} {:.2}", p.x, p.y),
            Part::Curve(a, b, p) => write!(
                data,
                "C{:.2} {:.2} {:.2} {:.2} {:.2} {:.2}",
                a.x, a.y, b.x, b.y, p.x, p.y
            ),
            Part::Close => write!(data, "Z"),
        };
    }
    data
}

fn stroke(line: &Line) -> String {
    let dash = line.dash.map_or_else(String::new, |[dash, gap]| {
        format!(" stroke-dasharray=\"{dash} {gap}\"")
    });
    let colour = paint("stroke", line.colour);
    format!(
        "{colour} stroke-width=\"{}\" stroke-linejoin=\"round\"{dash}",
        line.width
    )
}

fn paint(what: &str, colour: Colour) -> String {
    let [r, g, b] = colour.rgb;
    if colour.cover >= 1.0 {
        format!("{what}=\"#{r:02x}{g:02x}{b:02x}\"")
    } else {
        let cover = colour.cover;
        format!("{what}=\"#{r:02x}{g:02x}{b:02x}\" {what}-opacity=\"{cover}\"")
    }
}

fn escape(text: &str) -> String {
    let mut escaped = String::with_capacity(text.len());
    for c in text.chars() {
        match c {
            '&' => escaped.push_str("&amp;"),
            '<' => escaped.push_str("&lt;"),
            '>' => escaped.push_str("&gt;"),
            '"' => escaped.push_str("&quot;"),
            c if c.is_control() => escaped.push('\u{fffd}'),
            c => escaped.push(c),
        }
    }
    escaped
}
