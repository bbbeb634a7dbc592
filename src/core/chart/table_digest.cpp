#include "core/chart/table_digest.hpp"

#include "core/numbers/digest.hpp"

namespace cursimeter::detail {
namespace {

using keys::Key;

/// Digests everything that a spec says, each value with its key's name. What is left out, and what is empty, is not there: so
/// keys that a later version knows besides leave the digests of older specs as they are.
class TableDigest {
  public:
    template <class T>
    void meet(const Key& key, const keys::Value<T>& value, const void* spec) {
        const T* said = value.said(spec);
        if (said != nullptr && key.name != "was" && !is_empty(*said)) {
            say(key);
            add(*said);
        }
    }
    void meet(const Key& key, const keys::Choice& choice, const void* spec) {
        if (const std::optional<int> said = choice.said(spec)) {
            say(key);
            add(*said);
        }
    }
    void meet(const Key& key, const keys::Choices& choices, const void* spec) {
        if (const std::optional<std::vector<int>> said = choices.said(spec)) {
            say(key);
            add(*said);
        }
    }
    void meet(const Key& key, const keys::Inner& inner, const void* spec) {
        if (const void* said = inner.said(spec)) {
            add_table(key, inner.rows, said, inner.optional);
        }
    }
    void meet(const Key& key, const keys::Named& named, const void* spec) {
        if (named.count(spec) == 0) {
            return;
        }
        say(key);
        digest_.add(std::uint64_t{named.count(spec)});
        for (std::size_t i = 0; i < named.count(spec); ++i) {
            const void* item = named.at(spec, i);
            digest_.add(named.name_of(item));
            add_table(key, named.rows, item, true);
        }
    }
    void meet(const Key& key, const keys::Listed& listed, const void* spec) {
        if (key.name == "require" || listed.count(spec) == 0) {  // what is asked of the rest is no part of it
            return;
        }
        say(key);
        digest_.add(std::uint64_t{listed.count(spec)});
        for (std::size_t i = 0; i < listed.count(spec); ++i) {
            add_table(key, listed.rows, listed.at(spec, i), true);
        }
    }
    [[nodiscard]] std::uint64_t value() const { return digest_.value(); }

  private:
    void say(const Key& key) {
        digest_.add(key.name);
        says_anything_ = true;
    }
    /// A table of its own. `even_empty`: that it is there says something.
    void add_table(const Key& key, const keys::Rows& rows, const void* spec, bool even_empty) {
        TableDigest table;
        keys::walk(rows, spec, table);
        if (even_empty || table.says_anything_) {
            say(key);
            digest_.add(table.value());
        }
    }
    template <class T>
    static bool is_empty(const T& /*value*/) {
        return false;
    }
    template <class T>
    static bool is_empty(const std::vector<T>& list) {
        return list.empty();
    }

    void add(double value) { digest_.add(value); }
    void add(bool value) { digest_.add(std::uint64_t{value}); }
    void add(int value) { digest_.add(static_cast<std::uint64_t>(static_cast<std::int64_t>(value))); }
    void add(const std::string& value) { digest_.add(value); }
    void add(const CurvePoint& point) {
        add(point.seconds);
        add(point.fraction);
    }
    void add(const RateSpec& rate) {
        add(rate.meter);
        add(rate.rate);
    }
    void add(const Condition& condition) { add(condition.any_of); }
    template <class T>
    void add(const std::vector<T>& list) {
        digest_.add(std::uint64_t{list.size()});
        for (const T& item : list) {
            add(item);
        }
    }
    template <class T, std::size_t Count>
    void add(const std::array<T, Count>& list) {
        for (const T& item : list) {
            add(item);
        }
    }

    Digest digest_;
    bool says_anything_ = false;
};

}  // namespace

std::uint64_t digest_of(const keys::Rows& rows, const void* spec) {
    TableDigest digest;
    keys::walk(rows, spec, digest);
    return digest.value();
}

}  // namespace cursimeter::detail
