//! Pieces of paper packed into columns of one height, as few columns as will do.

/// So many ways are tried before the first good packing is kept.
const TRIES: u32 = 50_000;

/// Packs pieces of these heights into columns of `room`; each column is a list of places in `heights`, in their order. A
/// piece that is higher than a column gets one of its own.
///
/// First the largest piece into the first column that has room, then, where fewer columns might do, by trying.
#[must_use]
pub fn columns(heights: &[f64], room: f64) -> Vec<Vec<usize>> {
    let mut order: Vec<usize> = (0..heights.len()).collect();
    order.sort_by(|a, b| heights[*b].total_cmp(&heights[*a]));
    let first = first_fit(heights, room, &order);
    let least = least(heights, room);
    let mut best = first;
    while best.len() > least {
        let mut search =
            Search { heights, room, order: &order, tries: TRIES, columns: vec![Vec::new(); best.len() - 1] };
        let mut free = vec![room; best.len() - 1];
        if !search.place(0, &mut free) {
            break;
        }
        best = search.columns;
    }
    best.retain(|column| !column.is_empty());
    for column in &mut best {
        column.sort_unstable();
    }
    // Columns come in the order of their first pieces, so that a class comes out as it was sorted.
    best.sort_by_key(|column| column.first().copied());
    best
}

/// Fewer columns than this cannot do: the sum of all heights, and one for each piece that fills more than half of one.
fn least(heights: &[f64], room: f64) -> usize {
    let sum: f64 = heights.iter().sum();
    let filled = bright_row_core::number::whole((sum / room - 1e-9).ceil());
    let large = heights.iter().filter(|height| **height > room / 2.0).count();
    usize::try_from(filled).unwrap_or(usize::MAX).max(large)
}

fn first_fit(heights: &[f64], room: f64, order: &[usize]) -> Vec<Vec<usize>> {
    let mut columns: Vec<(f64, Vec<usize>)> = Vec::new();
    for piece in order {
        match columns.iter_mut().find(|(free, _)| *free >= heights[*piece]) {
            Some((free, column)) => {
                *free -= heights[*piece];
                column.push(*piece);
            }
            None => columns.push((room - heights[*piece], vec![*piece])),
        }
    }
    columns.into_iter().map(|(_, column)| column).collect()
}

struct Search<'a> {
    heights: &'a [f64],
    room: f64,
    order: &'a [usize],
    tries: u32,
    columns: Vec<Vec<usize>>,
}

impl Search<'_> {
    fn place(&mut self, next: usize, free: &mut [f64]) -> bool {
        let Some(piece) = self.order.get(next).copied() else { return true };
        if self.tries == 0 {
            return false;
        }
        self.tries -= 1;
        let height = self.heights[piece];
        let mut tried: Vec<f64> = Vec::new();
        for column in 0..free.len() {
            // Columns with equal room are one to try; so are all empty ones.
            let room = free[column];
            let known = tried.iter().any(|other| (other - room).abs() < 1e-9);
            if room < height && !(self.room < height && self.columns[column].is_empty()) || known {
                continue;
            }
            tried.push(room);
            free[column] -= height;
            self.columns[column].push(piece);
            if self.place(next + 1, free) {
                return true;
            }
            self.columns[column].pop();
            free[column] += height;
        }
        false
    }
}
