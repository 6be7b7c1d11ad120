//! The checksum of the map, kept up where it changes: the cost of a change does not grow with the map.

use super::digest::Digest;
use super::table::{Column, Single, Visitor};
use crate::ground::{Cell, Ground, Patch};

/// Side, in cells, of the squares in which the map is hashed.
const TILE: i32 = 32;

/// The checksum of a map.
#[derive(Clone, Debug, Default)]
pub(crate) struct GroundDigest {
    /// Of everything that never changes: heights, gaits, links, and what the terrains are like.
    fixed: u64,
    /// Of each square of cells, and their sum.
    tiles: Vec<u64>,
    sum: u64,
    digest: Digest,
}

impl GroundDigest {
    pub(crate) fn new(ground: &Ground) -> GroundDigest {
        let mut digest: Digest = Digest::default();
        ground.fixed_parts(|part| digest.add(&part.bytes()));
        let mut made = GroundDigest {
            fixed: digest.finish(),
            tiles: Vec::new(),
            sum: 0,
            digest,
        };
        let (columns, rows) = tiles_of(ground);
        made.tiles.resize((columns * rows) as usize, 0);
        made.update(ground, ground.whole());
        made
    }

    /// Takes in that cells within a patch may have changed.
    pub(crate) fn update(&mut self, ground: &Ground, patch: Patch) {
        let patch = patch.clipped(ground.width(), ground.height());
        if patch.is_empty() {
            return;
        }
        let (columns, _) = tiles_of(ground);
        for y in patch.min.y / TILE..=patch.max.y / TILE {
            for x in patch.min.x / TILE..=patch.max.x / TILE {
                let tile = self.hash_tile(ground, x, y);
                let known = &mut self.tiles[(y * columns + x) as usize];
                self.sum = self.sum.wrapping_sub(*known).wrapping_add(tile);
                *known = tile;
            }
        }
    }

    fn hash_tile(&mut self, ground: &Ground, x: i32, y: i32) -> u64 {
        let low = Cell::new(x * TILE, y * TILE);
        let high = Cell::new(low.x + TILE - 1, low.y + TILE - 1);
        self.digest.begin();
        self.digest.add(&(x, y));
        let tile = Patch::between(low, high).clipped(ground.width(), ground.height());
        for cell in tile.cells() {
            self.digest.add(&ground.contents(cell));
        }
        self.digest.finish()
    }

    pub(super) fn visit(&self, ground: &Ground, visit: &mut Visitor<'_>) {
        visit(
            "Ground",
            "map",
            &Map {
                ground,
                digest: self,
            },
        );
        visit(
            "Ground",
            "cells",
            &Cells {
                ground,
                digest: self,
            },
        );
        for door in ground.doors() {
            visit("Ground", "door", &Single(&door.shut));
        }
    }
}

fn tiles_of(ground: &Ground) -> (i32, i32) {
    let tiles = |cells: u32| (cells as i32 + TILE - 1) / TILE;
    (tiles(ground.width()), tiles(ground.height()))
}

/// What never changes of a map.
struct Map<'a> {
    ground: &'a Ground,
    digest: &'a GroundDigest,
}

impl Column for Map<'_> {
    fn rows(&self) -> usize {
        1
    }

    fn feed(&self, digest: &mut Digest) {
        digest.add(&self.digest.fixed);
    }

    fn bytes(&self, _: usize) -> Vec<u8> {
        Digest::bytes_of(&self.digest.fixed)
    }

    fn show(&self, _: usize) -> String {
        let (ground, fixed) = (self.ground, self.digest.fixed);
        format!(
            "{} by {} cells, {fixed:016x}",
            ground.width(),
            ground.height()
        )
    }
}

/// The cells of a map, row by row from below.
struct Cells<'a> {
    ground: &'a Ground,
    digest: &'a GroundDigest,
}

impl Cells<'_> {
    fn cell(&self, row: usize) -> Cell {
        let width = self.ground.width() as usize;
        Cell::new((row % width) as i32, (row / width) as i32)
    }
}

impl Column for Cells<'_> {
    fn rows(&self) -> usize {
        self.ground.width() as usize * self.ground.height() as usize
    }

    fn feed(&self, digest: &mut Digest) {
        digest.add(&self.digest.sum);
    }

    fn bytes(&self, row: usize) -> Vec<u8> {
        Digest::bytes_of(&self.ground.contents(self.cell(row)))
    }

    fn show(&self, row: usize) -> String {
        let cell = self.cell(row);
        let (terrain, obstacles) = self.ground.contents(cell);
        format!(
            "({}, {}): terrain {terrain}, {obstacles} obstacles",
            cell.x, cell.y
        )
    }
}
