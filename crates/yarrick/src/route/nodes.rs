//! What a search knows of the cells that it has come upon.

/// What a search knows of each cell, by padded index.
#[derive(Clone, Debug, Default)]
pub(super) struct Nodes {
    all: Vec<Node>,
    /// Marks the nodes that this search has touched, so that none need be cleared.
    run: u32,
}

#[derive(Clone, Copy, Debug, Default)]
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

impl Nodes {
    pub(super) fn begin(&mut self, count: usize) {
        if self.all.len() < count {
            self.all.resize(count, Node::default());
        }
        self.run = self.run.wrapping_add(1);
        if self.run == 0 {
            self.all.fill(Node::default());
            self.run = 1;
        }
    }

    pub(super) fn cost(&self, node: usize) -> u64 {
        self.all[node].cost
    }

    pub(super) fn step(&self, node: usize) -> u8 {
        self.all[node].step
    }

    /// The number of the link that led to a node, if one did.
    pub(super) fn link(&self, node: usize) -> Option<u16> {
        let node = &self.all[node];
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
        let node = &mut self.all[node];
        if node.run == self.run && node.cost <= cost {
            return false;
        }
        *node = Node {
            cost,
            run: self.run,
            step,
            settled: false,
            link,
        };
        true
    }

    /// Settles a node. Gives whether it was not settled before.
    pub(super) fn settle(&mut self, node: usize) -> bool {
        !core::mem::replace(&mut self.all[node].settled, true)
    }

    /// The nodes below a number that this search has settled, in order.
    pub(super) fn settled(&self, count: usize) -> impl Iterator<Item = usize> + '_ {
        let nodes = self.all.iter().take(count).enumerate();
        let settled = |node: &Node| node.run == self.run && node.settled;
        let found = nodes.filter(move |(_, node)| settled(node));
        found.map(|(at, _)| at)
    }
}
