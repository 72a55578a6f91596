// The yardstick of graph.pagerank and graph.csr: PageRank by pulling, double precision, one thread, over the same made-up graph.
// Prints milliseconds to build the rows, milliseconds an iteration (the median of all) and the rank of node 0.
#include <algorithm>
#include <chrono>
#include <cstdint>
#include <cstdio>
#include <cstdlib>
#include <vector>

using Clock = std::chrono::steady_clock;
static double since(Clock::time_point from) {
  return std::chrono::duration<double, std::milli>(Clock::now() - from).count();
}
static uint32_t state = 1;
static double draw() {
  state = state * 1664525u + 1013904223u;
  return state / 4294967296.0;
}

int main(int argc, char **argv) {
  const int nodes = std::atoi(argv[1]), edges = std::atoi(argv[2]), iterations = std::atoi(argv[3]);
  std::vector<int32_t> from(edges), to(edges);
  for (int i = 0; i < edges; i++) {
    from[i] = (int32_t)(draw() * nodes);
    const double x = draw();
    to[i] = (int32_t)(x * x * x * nodes);
  }
  auto began = Clock::now();
  int shift = 0;
  while ((nodes - 1) >> shift >= 256) shift++;
  std::vector<uint32_t> starts(257), offsets(nodes + 1), degree(nodes);
  for (int i = 0; i < edges; i++) starts[(to[i] >> shift) + 1]++;
  for (int i = 0; i < 256; i++) starts[i + 1] += starts[i];
  std::vector<int32_t> rangeFrom(edges), rangeTo(edges), sources(edges), seen(nodes, -1);
  auto next = starts;
  for (int i = 0; i < edges; i++) {
    const uint32_t at = next[to[i] >> shift]++;
    rangeFrom[at] = from[i];
    rangeTo[at] = to[i];
  }
  std::vector<uint32_t> rows((1 << shift) + 1);
  uint32_t kept = 0;
  for (int range = 0; range < 256 && (range << shift) < nodes; range++) {
    const int first = range << shift, last = std::min(nodes, first + (1 << shift));
    const uint32_t start = starts[range], end = starts[range + 1];
    std::fill(rows.begin(), rows.end(), 0);
    for (uint32_t i = start; i < end; i++) rows[rangeTo[i] - first + 1]++;
    for (int row = 0; row < last - first; row++) rows[row + 1] += rows[row];
    for (uint32_t i = start; i < end; i++) sources[start + rows[rangeTo[i] - first]++] = rangeFrom[i];
    uint32_t at = start;
    for (int node = first; node < last; node++) {
      offsets[node] = kept;
      for (const uint32_t rowEnd = start + rows[node - first]; at < rowEnd; at++) {
        const int32_t source = sources[at];
        if (source == node || seen[source] == node) continue;
        seen[source] = node;
        sources[kept++] = source;
        degree[source]++;
      }
    }
  }
  offsets[nodes] = kept;
  const double buildMs = since(began);

  std::vector<double> rank(nodes, 1.0 / nodes), share(nodes), sum(nodes), took;
  for (int k = 0; k < iterations; k++) {
    began = Clock::now();
    double dangling = 0;
    for (int i = 0; i < nodes; i++) {
      if (degree[i]) share[i] = rank[i] / degree[i];
      else dangling += rank[i];
    }
    const double spread = (0.85 * dangling + 0.15) / nodes;
    for (int node = 0; node < nodes; node++) {
      double total = 0;
      for (uint32_t at = offsets[node]; at < offsets[node + 1]; at++) total += share[sources[at]];
      sum[node] = 0.85 * total + spread;
    }
    rank.swap(sum);
    took.push_back(since(began));
  }
  std::sort(took.begin(), took.end());
  std::printf("%f %f %.12g\n", buildMs, took[took.size() / 2], rank[0]);
}
