//! What a search knows of the cells that it has come upon.

/// What a search knows of each cell, by padded index.
#[derive(Clone, Debug, Default)]
pub(super) struct Nodes {
    /// Of arrays of numbers, memory that is all zero comes from the system when it is first touched: so a short search on a large
    /// map neither takes the time nor the memory for all of it.
    all: Vec<[u64; 2]>,
    /// Marks the nodes that this search has touched, so that none need be cleared.
    run: u32,
}

#[derive(Clone, Copy, Debug)]
struct Node {
    cost: u64,
    run: u32,
    /// The step that led here, or [`BY_LINK`].
    step: u8,
    settled: bool,
    /// The number of the link that led here.
    link: u16,
}

/// In place of a step: a link.
const BY_LINK: u8 = 9;

/// Where a node keeps that it is settled, in its second number.
const SETTLED: u64 = 1 << 63;

impl Node {
    fn packed(self) -> [u64; 2] {
        let (run, link, step) = (
            u64::from(self.run),
            u64::from(self.link),
            u64::from(self.step),
        );
        let settled = if self.settled { SETTLED } else { 0 };
        [self.cost, run | link << 32 | step << 48 | settled]
    }

    fn unpacked([cost, rest]: [u64; 2]) -> Node {
        Node {
            cost,
            run: rest as u32,
            step: (rest >> 48) as u8 & 0x7F,
            settled: rest & SETTLED != 0,
            link: (rest >> 32) as u16,
        }
    }
}

impl Nodes {
    pub(super) fn begin(&mut self, count: usize) {
        if self.all.len() < count {
            *self = Nodes {
                all: vec![[0; 2]; count],
                run: 0,
            };
        }
        self.run = self.run.wrapping_add(1);
        if self.run == 0 {
            self.all.fill([0; 2]);
            self.run = 1;
        }
    }

    fn at(&self, node: usize) -> Node {
        Node::unpacked(self.all[node])
    }

    pub(super) fn cost(&self, node: usize) -> u64 {
        self.all[node][0]
    }

    pub(super) fn step(&self, node: usize) -> u8 {
        self.at(node).step
    }

    /// The number of the link that led to a node, if one did.
    pub(super) fn link(&self, node: usize) -> Option<u16> {
        let node = self.at(node);
        (node.step == BY_LINK).then_some(node.link)
    }

    /// Notes a way to a node by a step. Gives whether it is better than any known so far.
    pub(super) fn reach(&mut self, node: usize, cost: u64, step: u8) -> bool {
        self.note(node, cost, step, 0)
    }

    /// The same by a link.
    pub(super) fn reach_by_link(&mut self, node: usize, cost: u64, link: u16) -> bool {
        self.note(node, cost, BY_LINK, link)
    }

    fn note(&mut self, node: usize, cost: u64, step: u8, link: u16) -> bool {
        let [known, rest] = self.all[node];
        if rest as u32 == self.run && known <= cost {
            return false;
        }
        let new = Node {
            cost,
            run: self.run,
            step,
            settled: false,
            link,
        };
        self.all[node] = new.packed();
        true
    }

    /// Settles a node. Gives whether it was not settled before.
    pub(super) fn settle(&mut self, node: usize) -> bool {
        let rest = &mut self.all[node][1];
        let was_settled = *rest & SETTLED != 0;
        *rest |= SETTLED;
        !was_settled
    }

    /// The nodes below a number that this search has settled, in order.
    pub(super) fn settled(&self, count: usize) -> impl Iterator<Item = usize> + '_ {
        let is_settled = |at: &usize| {
            let node = self.at(*at);
            node.run == self.run && node.settled
        };
        (0..count.min(self.all.len())).filter(is_settled)
    }
}
