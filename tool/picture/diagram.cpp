#include "picture/diagram.hpp"

#include <fmt/format.h>
#include <gvc.h>

#include <algorithm>
#include <bit>
#include <cursimeter/survey/check.hpp>
#include <map>
#include <memory>

#include "picture/style.hpp"

namespace cursimeter::tool {
namespace {

std::string hex(Colour colour, double tint = 0.0) {
    const auto part = [&](double value) {
        return static_cast<int>((value + (1.0 - value) * tint) * 255.0 + 0.5);
    };
    return fmt::format("#{:02x}{:02x}{:02x}", part(colour.red), part(colour.green), part(colour.blue));
}

/// A condition in lines of about this many characters.
std::string folded(const std::string& text) {
    constexpr std::size_t width = 26;
    std::string lines, line;
    std::size_t begin = 0;
    while (begin < text.size()) {
        std::size_t end = text.find(", ", begin);
        end = end == std::string::npos ? text.size() : end + 2;
        const std::string part = text.substr(begin, end - begin);
        if (!line.empty() && line.size() + part.size() > width) {
            lines += line + "\\n";
            line.clear();
        }
        line += part;
        begin = end;
    }
    return lines + line;
}

class DiagramWriter {
  public:
    DiagramWriter(const ChartFile& chart, const survey::Run* run)
        : chart_(chart), run_(run), passages_(survey::passages(chart.spec)) {}

    std::string write() {
        count_run();
        dot_ = fmt::format(
            "digraph states {{\n"
            "  graph [rankdir=LR, bgcolor=\"{}\", fontname=\"DejaVu Sans\", fontsize=16, labelloc=t, "
            "labeljust=l,\n"
            "         label=\"{}\", size=\"12.8,8!\", dpi=100, ratio=fill, pad=0.15, nodesep=0.25, "
            "ranksep=0.55]\n"
            "  node [shape=box, style=\"rounded,filled\", fontname=\"DejaVu Sans\", fontsize=15, "
            "fontcolor=\"{}\"]\n"
            "  edge [fontname=\"DejaVu Sans\", fontsize=13, color=\"{}\", fontcolor=\"{}\", arrowsize=0.7]\n",
            hex(paper), heading(), hex(ink), hex(faint), hex(ink));
        states();
        changes();
        return dot_ + "}\n";
    }

  private:
    const std::string& name(std::uint8_t state) const { return chart_.chart.name(StateId{state}); }

    void count_run() {
        for (std::size_t i = 1; run_ != nullptr && i < run_->visits.size(); ++i) {
            ++taken_[{run_->visits[i - 1].state.index, run_->visits[i].state.index}];
        }
    }

    std::string heading() const {
        std::string text =
            fmt::format("{}: states, and the changes that its conditions allow", chart_.chart.name());
        if (run_ != nullptr) {
            text += fmt::format("; bold and counted: taken in {:g} s", run_->seconds);
        }
        return text;
    }

    void states() {
        std::uint64_t reachable = 0;
        for (const survey::Passage& passage : passages_) {
            reachable |= std::uint64_t{1} << passage.from | std::uint64_t{1} << passage.to;
        }
        for (std::uint8_t i = 0; i < chart_.chart.state_count(); ++i) {
            const Colour colour = colour_of(StateId{i});
            const bool known = chart_.chart.state_count() == 1 || (reachable >> i & 1U) != 0;
            dot_ +=
                fmt::format("  {} [fillcolor=\"{}\", color=\"{}\", penwidth=2{}]\n", name(i),
                            hex(colour, 0.75), hex(colour), known ? "" : ", style=\"rounded,filled,dashed\"");
        }
    }

    /// Changes from most other states to one come as one arrow from a point: it says "from any", and which not.
    void changes() {
        std::map<std::uint8_t, std::vector<const survey::Passage*>> into;
        for (const survey::Passage& passage : passages_) {
            into[passage.to].push_back(&passage);
        }
        const std::size_t others = chart_.chart.state_count() - 1;
        for (const auto& [to, all] : into) {
            const bool shared = all.size() >= 3 && 2 * all.size() >= others;
            if (shared) {
                from_many(to, all);
            }
            bool labelled = shared;
            for (const survey::Passage* passage : all) {
                const auto taken = taken_.find({passage->from, to});
                const std::size_t times = taken == taken_.end() ? 0 : taken->second;
                if (shared && times == 0) {
                    continue;
                }
                edge(name(passage->from), to, labelled ? "" : condition_of(*passage), times);
                labelled = true;
            }
        }
        for (const auto& taken : taken_) {  // forced, or by a block
            const auto change = taken.first;
            const bool known =
                std::any_of(passages_.begin(), passages_.end(), [&](const survey::Passage& passage) {
                    return passage.from == change.first && passage.to == change.second;
                });
            if (!known && change.first != change.second) {
                edge(name(change.first), change.second, "", taken.second);
            }
        }
    }

    static std::string condition_of(const survey::Passage& passage) {
        return passage.by.empty() ? "otherwise" : passage.by;
    }

    void from_many(std::uint8_t to, const std::vector<const survey::Passage*>& all) {
        std::string but;
        for (std::uint8_t i = 0; i < chart_.chart.state_count(); ++i) {
            const bool listed = std::any_of(
                all.begin(), all.end(), [&](const survey::Passage* passage) { return passage->from == i; });
            if (i != to && !listed) {
                but += (but.empty() ? "" : ", ") + name(i);
            }
        }
        dot_ += fmt::format(
            "  any_{} [shape=plaintext, style=\"\", fontsize=12, fontcolor=\"{}\", label=\"any{}\"]\n",
            name(to), hex(faint), but.empty() ? "" : "\\nbut " + folded(but));
        dot_ += fmt::format("  any_{} -> {} [style=dashed, label=\"{}\"]\n", name(to), name(to),
                            folded(condition_of(*all.front())));
    }

    void edge(const std::string& from, std::uint8_t to, const std::string& condition, std::size_t times) {
        std::string label = folded(condition);
        if (times > 0) {
            label += fmt::format("{}\u00d7{}", label.empty() ? "" : " ", times);
        }
        dot_ += fmt::format(
            "  {} -> {} [label=\"{}\"{}]\n", from, name(to), label,
            times > 0 ? fmt::format(", penwidth=2.6, color=\"{}\"", hex(colour_of(StateId{to}))) : "");
    }

    const ChartFile& chart_;
    const survey::Run* run_;
    std::vector<survey::Passage> passages_;
    std::map<std::pair<std::uint8_t, std::uint8_t>, std::size_t> taken_;
    std::string dot_;
};

}  // namespace

std::string diagram_dot(const ChartFile& chart, const survey::Run* run) {
    return DiagramWriter(chart, run).write();
}

std::string render_dot(const std::string& dot, const char* format) {
    const std::unique_ptr<GVC_t, decltype(&gvFreeContext)> context(gvContext(), gvFreeContext);
    const std::unique_ptr<Agraph_t, decltype(&agclose)> graph(agmemread(dot.c_str()), agclose);
    char* data = nullptr;
    unsigned size = 0;
    const bool drawn = graph != nullptr && gvLayout(context.get(), graph.get(), "dot") == 0 &&
                       gvRenderData(context.get(), graph.get(), format, &data, &size) == 0;
    std::string picture(drawn ? std::string(data, size) : std::string());
    gvFreeRenderData(data);
    if (graph != nullptr) {
        gvFreeLayout(context.get(), graph.get());
    }
    if (!drawn) {
        throw ChartError(
            {{"diagram", "Graphviz could not draw it", "check that graphviz is whole: dot -V", {}, 0, 0}});
    }
    return picture;
}

}  // namespace cursimeter::tool
