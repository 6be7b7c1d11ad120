//! Places that are spoken for: discs that come and go one by one.

use crate::geom::{Rect, Vec2};

/// In place of a claimant. Claimants are counted from 1 within, since memory that is all zero comes from the system when it is first
/// touched: so a large grid costs nothing where nobody claims.
const NOBODY: u32 = 0;

/// In place of a cell, while nothing is claimed.
const NOWHERE: u32 = u32::MAX;

/// Which places are spoken for, and by whom. Each claimant has at most one place.
///
/// A grid of linked lists: putting in costs the same however many there are, taking out and
/// asking cost in proportion to who stands near.
#[derive(Clone, Debug, Default)]
pub struct Claims {
    bounds: Option<Rect>,
    cell_m: f32,
    columns: u32,
    /// Who is first in each cell.
    heads: Vec<u32>,
    entries: Vec<Entry>,
    widest: f32,
}

#[derive(Clone, Copy, Debug)]
struct Entry {
    place: Vec2,
    radius: f32,
    /// Who is next in the same cell.
    next: u32,
    /// The cell it is filed under; [`NOWHERE`] while it claims nothing.
    cell: u32,
}

const UNFILED: Entry = Entry {
    place: Vec2::ZERO,
    radius: 0.0,
    next: NOBODY,
    cell: NOWHERE,
};

impl Claims {
    /// Forgets everything, and prepares for discs within `bounds`. Memory is reused. Costs in proportion to the claims; the first
    /// time, and for other bounds, also in proportion to the cells of the grid, of which there are at most 512 by 512.
    pub fn clear(&mut self, bounds: Rect, cell_m: f32) {
        let size = bounds.size().max(Vec2::splat(1e-3));
        self.cell_m = cell_m.max(1e-3).max(size.max_element() / 512.0);
        self.columns = (size.x / self.cell_m).ceil().max(1.0) as u32;
        let rows = (size.y / self.cell_m).ceil().max(1.0) as usize;
        self.bounds = Some(bounds);
        let count = self.columns as usize * rows;
        if self.heads.len() == count {
            let filed = self.entries.iter().filter(|entry| entry.cell != NOWHERE);
            for entry in filed {
                self.heads[entry.cell as usize] = NOBODY;
            }
        } else {
            self.heads = vec![NOBODY; count];
        }
        self.entries.clear();
        self.widest = 0.0;
    }

    /// Claims a place for `who`, giving up the one they had.
    pub fn put(&mut self, who: u32, place: Vec2, radius: f32) {
        self.take(who);
        if self.heads.is_empty() {
            return;
        }
        if self.entries.len() <= who as usize {
            self.entries.resize(who as usize + 1, UNFILED);
        }
        let cell = self.row(place.y) * self.columns + self.column(place.x);
        let next = core::mem::replace(&mut self.heads[cell as usize], who + 1);
        self.entries[who as usize] = Entry {
            place,
            radius,
            next,
            cell,
        };
        self.widest = self.widest.max(radius);
    }

    /// Gives up the place of `who`, if they have one.
    pub fn take(&mut self, who: u32) {
        let Some(&entry) = self.entries.get(who as usize) else {
            return;
        };
        if entry.cell == NOWHERE {
            return;
        }
        let head = self.heads[entry.cell as usize];
        if head == who + 1 {
            self.heads[entry.cell as usize] = entry.next;
        } else {
            let mut at = head;
            while self.entries[at as usize - 1].next != who + 1 {
                at = self.entries[at as usize - 1].next;
            }
            self.entries[at as usize - 1].next = entry.next;
        }
        self.entries[who as usize] = UNFILED;
    }

    /// Whether a disc touches nobody's place.
    #[must_use]
    pub fn is_free(&self, place: Vec2, radius: f32) -> bool {
        if self.heads.is_empty() {
            return true;
        }
        let reach = radius + self.widest;
        let columns = self.column(place.x - reach)..=self.column(place.x + reach);
        (self.row(place.y - reach)..=self.row(place.y + reach))
            .flat_map(|row| {
                columns
                    .clone()
                    .map(move |column| row * self.columns + column)
            })
            .all(|cell| {
                let mut at = self.heads[cell as usize];
                while at != NOBODY {
                    let entry = &self.entries[at as usize - 1];
                    let apart = radius + entry.radius;
                    if entry.place.distance_squared(place) < apart * apart {
                        return false;
                    }
                    at = entry.next;
                }
                true
            })
    }

    fn column(&self, x: f32) -> u32 {
        let origin = self.bounds.map_or(0.0, |b| b.min.x);
        (((x - origin) / self.cell_m) as u32).min(self.columns - 1)
    }

    fn row(&self, y: f32) -> u32 {
        let origin = self.bounds.map_or(0.0, |b| b.min.y);
        let rows = self.heads.len() as u32 / self.columns;
        (((y - origin) / self.cell_m) as u32).min(rows - 1)
    }
}
