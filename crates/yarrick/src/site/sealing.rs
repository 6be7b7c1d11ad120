//! Whether a building would close the last way between two places.

use crate::ground::{Cell, ClearanceMap, Ground, Patch, Region};

/// Cells from which, and cells to which, a way has to stay open: any of the ones to any of the others.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Way {
    /// Where it begins.
    pub from: Vec<Cell>,
    /// Where it leads.
    pub to: Vec<Cell>,
}

/// The numbers of the ways, in their order, that are open to the bodies of a clearance map, and would no longer be with an
/// obstacle on some cells.
///
/// ```
/// use yarrick::ground::{Cell, ClearanceMap, Ground, Terrain};
/// use yarrick::site::{Way, closed_ways};
///
/// let rows = ["......", ".####.", "......"];
/// let legend = [('.', Terrain::open("sand")), ('#', Terrain::closed("dyke"))];
/// let ground = Ground::from_rows(1.0, &rows, &legend)?;
/// let clearance = ClearanceMap::new(&ground, 0.4);
/// let ways = [Way { from: vec![Cell::new(0, 1)], to: vec![Cell::new(5, 1)] }];
///
/// let below = [Cell::new(3, 0)];
/// assert_eq!(closed_ways(&ground, &clearance, &below, &ways), []);
/// let both = [Cell::new(3, 0), Cell::new(3, 2)];
/// assert_eq!(closed_ways(&ground, &clearance, &both, &ways), [0]);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
///
/// Complexity: the border of a box round the cells, where all ground there is open: whoever comes through the box can go
/// along its border. Else the cells of all parts but the largest into which the obstacle cuts the map, or of a ring round it
/// where it cuts nothing off. On hexes, and with links, a copy of the map and of the clearance map, and its repair.
#[must_use]
pub fn closed_ways(
    ground: &Ground,
    clearance: &ClearanceMap,
    cells: &[Cell],
    ways: &[Way],
) -> Vec<usize> {
    let patch = cells
        .iter()
        .fold(Patch::EMPTY, |patch, cell| patch.with(*cell));
    if patch.is_empty() {
        return Vec::new();
    }
    let reach = (clearance.radius() / ground.cell_m()).ceil() as i32 + 2;
    let inner = Patch::between(
        Cell::new(patch.min.x - reach, patch.min.y - reach),
        Cell::new(patch.max.x + reach, patch.max.y + reach),
    );
    let is_outside = |cell: Cell| {
        cell.x < inner.min.x || cell.y < inner.min.y || cell.x > inner.max.x || cell.y > inner.max.y
    };
    // A link may begin or end within the box.
    let goes_round = ground.links().is_empty() && border_is_open(clearance, inner);
    let asked = ways.iter().enumerate().filter(|(_, way)| {
        is_open(clearance, way, |_| true) && !(goes_round && is_open(clearance, way, is_outside))
    });
    let mut asked = asked.peekable();
    if asked.peek().is_none() {
        return Vec::new();
    }
    let shut = clearance.closed_by(ground, cells);
    if let Some(shut) = shut.filter(|_| ground.links().is_empty()) {
        let parts = clearance.parts_without(&shut);
        let part = |cell: &Cell| parts.part(*cell);
        let is_open = |way: &Way| {
            let from: Vec<_> = way.from.iter().filter_map(part).collect();
            way.to.iter().filter_map(part).any(|to| from.contains(&to))
        };
        let closed = asked.filter(|(_, way)| !is_open(way));
        return closed.map(|(number, _)| number).collect();
    }
    let after = with_obstacle(ground, clearance, cells);
    let closed = asked.filter(|(_, way)| !is_open(&after, way, |_| true));
    closed.map(|(number, _)| number).collect()
}

/// Whether a body could get from one end of a way to the other, by those cells of its ends that `counts` lets count.
fn is_open(clearance: &ClearanceMap, way: &Way, counts: impl Fn(Cell) -> bool) -> bool {
    let regions = |cells: &[Cell]| {
        let mut regions: Vec<Region> = Vec::new();
        for cell in cells.iter().filter(|cell| counts(**cell)) {
            let region = clearance.region(*cell);
            regions.extend(region.filter(|region| !regions.contains(region)));
        }
        regions
    };
    let (from, to) = (regions(&way.from), regions(&way.to));
    from.iter()
        .any(|from| to.iter().any(|to| clearance.leads_to(*from, *to)))
}

/// Whether all cells of the border of a box are open.
fn border_is_open(clearance: &ClearanceMap, inner: Patch) -> bool {
    let (min, max) = (inner.min, inner.max);
    let is_open = |x, y| clearance.region(Cell::new(x, y)).is_some();
    (min.x..=max.x).all(|x| is_open(x, min.y) && is_open(x, max.y))
        && (min.y..=max.y).all(|y| is_open(min.x, y) && is_open(max.x, y))
}

/// The ground as bodies find it with an obstacle on some cells.
fn with_obstacle(ground: &Ground, clearance: &ClearanceMap, cells: &[Cell]) -> ClearanceMap {
    let (mut ground, mut clearance) = (ground.clone(), clearance.clone());
    let changed = ground.block(cells.iter().copied());
    clearance.repair(&ground, changed);
    clearance
}
