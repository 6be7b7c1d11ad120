//! Where the map lies on a sheet.

use yarrick::world::World;
use yarrick::{Rect, Vec2};

/// The size of a picture, in pixels.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Size {
    pub(crate) width: u32,
    pub(crate) height: u32,
}

impl Default for Size {
    /// 1280 by 800.
    fn default() -> Size {
        Size {
            width: 1280,
            height: 800,
        }
    }
}

impl Size {
    /// The smallest width and height.
    pub const LEAST: (u32, u32) = (640, 480);
    /// The largest width and height.
    pub const MOST: (u32, u32) = (8000, 8000);

    /// A size within the limits, or `None`.
    #[must_use]
    pub fn new(width: u32, height: u32) -> Option<Size> {
        let sound = (Size::LEAST.0..=Size::MOST.0).contains(&width)
            && (Size::LEAST.1..=Size::MOST.1).contains(&height);
        sound.then_some(Size { width, height })
    }
}

/// What is kept free beside, left of, above and below the map, in pixels.
pub(crate) const PANEL_PX: f32 = 292.0;
pub(crate) const LEFT_PX: f32 = 46.0;
pub(crate) const TOP_PX: f32 = 20.0;
pub(crate) const BELOW_PX: f32 = 64.0;

/// Where the map lies on the sheet.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Frame {
    /// Pixels a metre.
    pub(crate) scale: f32,
    /// The map's box on the sheet.
    pub(crate) area: Rect,
}

impl Frame {
    pub(crate) fn new(world: &World, size: Size) -> Frame {
        let room = Vec2::new(
            size.width as f32 - PANEL_PX - LEFT_PX,
            size.height as f32 - TOP_PX - BELOW_PX,
        );
        let map = world.ground().bounds().size();
        let cell_m = world.ground().cell_m();
        let fitting = (room / map).min_element();
        // Whole pixels a cell keep edges crisp, where cells are large enough for it.
        let cell_px = (fitting * cell_m).floor();
        let scale = if cell_px >= 4.0 {
            cell_px / cell_m
        } else {
            fitting
        };
        let min = Vec2::new(LEFT_PX, TOP_PX) + ((room - map * scale) * 0.5).floor();
        Frame {
            scale,
            area: Rect {
                min,
                max: min + map * scale,
            },
        }
    }

    /// A point of the ground on the sheet.
    pub(crate) fn point(&self, ground: Vec2) -> Vec2 {
        let x = self.area.min.x + ground.x * self.scale;
        Vec2::new(x, self.area.max.y - ground.y * self.scale)
    }

    /// A box of the ground on the sheet.
    pub(crate) fn rect(&self, ground: Rect) -> Rect {
        Rect::from_corners(self.point(ground.min), self.point(ground.max))
    }
}
