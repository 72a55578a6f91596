// The yardstick of themes.100k: themes around a lead at four shared pages, by lists of keywords a page, one thread, over the same made-up
// results as themes-kernel.ts. Prints the median milliseconds of five runs and how many themes of two keywords or more there are.
#include <algorithm>
#include <chrono>
#include <cstdint>
#include <cstdio>
#include <cstdlib>
#include <vector>

using Clock = std::chrono::steady_clock;
static uint32_t state = 1;
static double draw() {
  state = state * 1664525u + 1013904223u;
  return state / 4294967296.0;
}

int main(int argc, char **argv) {
  const int keywords = std::atoi(argv[1]), popular = std::atoi(argv[2]), threshold = 4;
  const int perMeaning = 14, meanings = keywords / 6, others = 200000;
  const int pageCount = popular + meanings * perMeaning + others;
  std::vector<int> starts(keywords + 1, 0), pages;
  pages.reserve(keywords * 10);
  for (int i = 0; i < keywords; i++) {
    const int meaning = (int)(draw() * meanings);
    const size_t from = pages.size();
    auto add = [&](int page) {
      for (size_t at = from; at < pages.size(); at++)
        if (pages[at] == page) return;
      if (pages.size() - from < 10) pages.push_back(page);
    };
    for (int page = 0; page < popular; page++)
      if (draw() < 0.2) add(page);
    for (int tries = 0; tries < 14; tries++) {
      if (draw() < 0.7) add(popular + meaning * perMeaning + (int)(draw() * perMeaning));
      else add(popular + meanings * perMeaning + (int)(draw() * others));
    }
    starts[i + 1] = (int)pages.size();
  }
  std::vector<double> times;
  int themes = 0;
  for (int run = 0; run < 5; run++) {
    const auto began = Clock::now();
    // All keywords a page, and around each lead whatever is free.
    std::vector<int> room(pageCount + 1, 0);
    for (int page : pages) room[page + 1]++;
    for (int page = 0; page < pageCount; page++) room[page + 1] += room[page];
    std::vector<int> filled(room.begin(), room.end() - 1), postings(pages.size());
    for (int i = 0; i < keywords; i++)
      for (int at = starts[i]; at < starts[i + 1]; at++) postings[filled[pages[at]]++] = i;
    std::vector<int> groupOf(keywords, -1), touched;
    std::vector<uint8_t> counts(keywords, 0);
    themes = 0;
    for (int lead = 0; lead < keywords; lead++) {
      if (groupOf[lead] >= 0) continue;
      groupOf[lead] = lead;
      touched.clear();
      for (int at = starts[lead]; at < starts[lead + 1]; at++)
        for (int entry = room[pages[at]]; entry < room[pages[at] + 1]; entry++) {
          const int other = postings[entry];
          if (groupOf[other] < 0 && counts[other]++ == 0) touched.push_back(other);
        }
      int joined = 0;
      for (int other : touched) {
        if (counts[other] >= threshold) {
          groupOf[other] = lead;
          joined++;
        }
        counts[other] = 0;
      }
      if (joined) themes++;
    }
    times.push_back(std::chrono::duration<double, std::milli>(Clock::now() - began).count());
  }
  std::sort(times.begin(), times.end());
  std::printf("{\"ms\":%.3f,\"themes\":%d}\n", times[2], themes);
}
