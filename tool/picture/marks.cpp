#include "picture/marks.hpp"

#include "picture/style.hpp"

namespace cursimeter::tool {

void draw_cause_mark(Canvas& canvas, PagePoint middle, double height, bool by_hand) {
    constexpr double half = 3.5;
    const auto [x, y] = middle;
    if (by_hand) {
        canvas.line({x, y - 0.5 * height}, {x, y + 0.5 * height}, ink, 1.6);
        return;
    }
    const std::vector<PagePoint> diamond{
        {x - half, y}, {x, y - half}, {x + half, y}, {x, y + half}, {x - half, y}};
    canvas.polygon(diamond, paper);
    canvas.polyline(diamond, ink, 1.0);
}

void draw_causes_legend(Canvas& canvas, const Box& box) {
    double x = box.right();
    const double y = box.y - 5;
    for (const bool by_hand : {false, true}) {
        const std::string name = by_hand ? "by a key" : "by world or state";
        x -= canvas.text_width(name, 11);
        canvas.text({x, y}, name, ink, 11);
        draw_cause_mark(canvas, {x - 10, y - 4}, 10.0, by_hand);
        x -= 34;
    }
}

void draw_legend(Canvas& canvas, const Box& box, const std::vector<LegendEntry>& entries) {
    double x = box.right();
    for (auto entry = entries.rbegin(); entry != entries.rend(); ++entry) {
        x -= canvas.text_width(entry->name, 11);
        canvas.text({x, box.y - 5}, entry->name, ink, 11);
        canvas.line({x - 28, box.y - 9}, {x - 6, box.y - 9}, entry->colour, 2.0, entry->dashed);
        x -= 44;
    }
}

void draw_heading(Canvas& canvas, double left, const std::string& name, const std::string& what) {
    constexpr double y = 34.0, margin = 14.0;
    const double right = page_width - margin;
    const std::string shown = canvas.fitted(name, 0.5 * (right - left), 22, true);
    canvas.text({left, y}, shown, ink, 22, Align::left, true);
    const double after = left + canvas.text_width(shown, 22, true) + 12;
    canvas.text({after, y}, canvas.fitted(what, right - after, 15), ink, 15);
}

}  // namespace cursimeter::tool
