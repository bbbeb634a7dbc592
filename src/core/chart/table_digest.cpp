#include "core/chart/table_digest.hpp"

#include "core/numbers/digest.hpp"

namespace cursimeter::detail {
namespace {

using keys::Key;

/// Digests everything that the table of keys lists. What may be left out says first whether it was.
class TableDigest {
  public:
    template <class T>
    void meet(const Key& key, const keys::Value<T>& value, const void* spec) {
        if (key.name == "was") {
            return;
        }
        const T* said = value.said(spec);
        if (value.optional) {
            digest_.add(std::uint64_t{said != nullptr});
        }
        if (said != nullptr) {
            add(*said);
        }
    }
    void meet(const Key& /*key*/, const keys::Choice& choice, const void* spec) {
        const std::optional<int> said = choice.said(spec);
        if (choice.optional) {
            digest_.add(std::uint64_t{said.has_value()});
        }
        if (said) {
            add(*said);
        }
    }
    void meet(const Key& /*key*/, const keys::Choices& choices, const void* spec) {
        const std::optional<std::vector<int>> said = choices.said(spec);
        digest_.add(std::uint64_t{said.has_value()});
        if (said) {
            add(*said);
        }
    }
    void meet(const Key& /*key*/, const keys::Inner& inner, const void* spec) {
        const void* said = inner.said(spec);
        if (inner.optional) {
            digest_.add(std::uint64_t{said != nullptr});
        }
        if (said != nullptr) {
            keys::walk(inner.rows, said, *this);
        }
    }
    void meet(const Key& /*key*/, const keys::Named& named, const void* spec) {
        digest_.add(std::uint64_t{named.count(spec)});
        for (std::size_t i = 0; i < named.count(spec); ++i) {
            const void* item = named.at(spec, i);
            digest_.add(named.name_of(item));
            keys::walk(named.rows, item, *this);
        }
    }
    void meet(const Key& key, const keys::Listed& listed, const void* spec) {
        if (key.name == "require") {  // asks for what the rest brings about
            return;
        }
        digest_.add(std::uint64_t{listed.count(spec)});
        for (std::size_t i = 0; i < listed.count(spec); ++i) {
            keys::walk(listed.rows, listed.at(spec, i), *this);
        }
    }
    [[nodiscard]] std::uint64_t value() const { return digest_.value(); }

  private:
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
};

}  // namespace

std::uint64_t digest_of(const keys::Rows& rows, const void* spec) {
    TableDigest digest;
    keys::walk(rows, spec, digest);
    return digest.value();
}

}  // namespace cursimeter::detail
