#include <fmt/format.h>

#include <array>
#include <cerrno>
#include <cstdlib>
#include <cstring>
#include <cursimeter/chartfile/whole_file.hpp>
#include <cursimeter/diagnostics.hpp>
#include <fstream>
#include <utility>

#ifndef _WIN32
#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>
#endif

namespace cursimeter {
namespace {

[[noreturn]] void refuse(const std::filesystem::path& file, std::string what, std::string mend) {
    throw ChartError({{"", std::move(what), std::move(mend), file.string(), 0, 0}});
}

[[noreturn]] void refuse_size(const std::filesystem::path& file, std::size_t most) {
    refuse(file, fmt::format("holds more than {} MB", most / 1'000'000),
           "check that it is the file that you meant");
}

/// What helps against a reason of the system.
std::string mend_of(int error) {
    switch (error) {
        case ENOENT:
            return "check the path; its folder must exist";
        case ENOSPC:
            return "free some space, or choose another place";
        case EISDIR:
            return "name a file in it";
        default:
            return "check the path and its permissions";
    }
}
[[noreturn]] void refuse_to_write(const std::filesystem::path& file, int error) {
    refuse(file, fmt::format("cannot be written: {}", std::strerror(error)), mend_of(error));
}

}  // namespace

#ifndef _WIN32

namespace {

/// A descriptor that closes itself.
class Descriptor {
  public:
    explicit Descriptor(int number) : number_(number) {}
    Descriptor(const Descriptor&) = delete;
    Descriptor& operator=(const Descriptor&) = delete;
    ~Descriptor() {
        if (number_ >= 0) {
            ::close(number_);
        }
    }
    [[nodiscard]] int number() const { return number_; }
    /// Returns the system's reason if the last bytes cannot be written, or 0.
    int close() { return ::close(std::exchange(number_, -1)) == 0 ? 0 : errno; }

  private:
    int number_;
};

/// Returns the system's reason, or 0.
int write_all(int descriptor, std::string_view bytes) {
    while (!bytes.empty()) {
        const ssize_t written = ::write(descriptor, bytes.data(), bytes.size());
        if (written < 0 && errno != EINTR) {
            return errno;
        }
        bytes.remove_prefix(written > 0 ? static_cast<std::size_t>(written) : 0);
    }
    return 0;
}

/// Where a name leads to: links are followed, the last of which may lead to a file that is not there yet.
std::filesystem::path followed(std::filesystem::path file) {
    constexpr int most_links = 40;  // as the system's own limit
    for (int i = 0; i < most_links && std::filesystem::is_symlink(file); ++i) {
        const std::filesystem::path target = std::filesystem::read_symlink(file);
        file = target.is_absolute() ? target : file.parent_path() / target;
    }
    return file;
}

/// Overwrites a file where it lies, for one that cannot be replaced without losing its owner or its other names. The
/// room is claimed first, so that a full disk is noticed before the first byte.
int overwrite(const std::filesystem::path& file, std::string_view bytes, off_t old_size) {
    Descriptor out(::open(file.c_str(), O_WRONLY | O_CLOEXEC));
    if (out.number() < 0) {
        return errno;
    }
    const auto size = static_cast<off_t>(bytes.size());
    if (size > old_size) {
        const int error = ::posix_fallocate(out.number(), old_size, size - old_size);
        if (error != 0) {
            static_cast<void>(::ftruncate(out.number(), old_size));
            return error;
        }
    }
    int error = write_all(out.number(), bytes);
    if (error == 0 && ::ftruncate(out.number(), size) != 0) {
        error = errno;
    }
    return error != 0 ? error : out.close();
}

/// Writes a fresh file beside `file`, and puts it in its place. `old` is null where there is none. Returns the
/// system's reason, or 0.
int replace(const std::filesystem::path& file, std::string_view bytes, const struct stat* old) {
    // Its name is nobody's: a number that is taken is passed over.
    std::filesystem::path fresh;
    int descriptor = -1;
    for (int i = 0; descriptor < 0 && (i == 0 || errno == EEXIST); ++i) {
        fresh = file.parent_path() / fmt::format(".cursimeter-{}-{}", ::getpid(), i);
        descriptor =
            ::open(fresh.c_str(), O_WRONLY | O_CREAT | O_EXCL | O_CLOEXEC, old != nullptr ? 0600 : 0666);
    }
    Descriptor out(descriptor);
    if (out.number() < 0) {
        return errno;
    }
    int error = write_all(out.number(), bytes);
    if (error == 0 && old != nullptr && ::fchown(out.number(), old->st_uid, old->st_gid) != 0) {
        error = errno;
    }
    if (error == 0 && old != nullptr && ::fchmod(out.number(), old->st_mode & 07777) != 0) {
        error = errno;
    }
    const int closed = out.close();
    error = error != 0 ? error : closed;
    if (error == 0 && ::rename(fresh.c_str(), file.c_str()) != 0) {
        error = errno;
    }
    if (error != 0) {
        ::unlink(fresh.c_str());
    }
    return error;
}

}  // namespace

std::string read_whole_file(const std::filesystem::path& file, std::size_t most) {
    const auto refuse_to_read = [&](int error) {
        if (error == EISDIR) {
            refuse(file, "is a folder", "name a file");
        }
        refuse(file, fmt::format("cannot be read: {}", std::strerror(error)),
               "check the path and its permissions");
    };
    const Descriptor in(::open(file.c_str(), O_RDONLY | O_CLOEXEC));
    if (in.number() < 0) {
        refuse_to_read(errno);
    }
    std::string text;
    std::array<char, 65536> piece{};
    for (;;) {
        const ssize_t got = ::read(in.number(), piece.data(), piece.size());
        if (got < 0 && errno != EINTR) {
            refuse_to_read(errno);
        }
        if (got == 0) {
            return text;
        }
        text.append(piece.data(), got > 0 ? static_cast<std::size_t>(got) : 0);
        if (text.size() > most) {
            refuse_size(file, most);
        }
    }
}

void write_whole_file(const std::filesystem::path& file, std::string_view bytes) {
    struct stat old {};
    const bool there = ::stat(file.c_str(), &old) == 0;
    if (!there && errno != ENOENT) {
        refuse_to_write(file, errno);
    }
    if (there && S_ISDIR(old.st_mode)) {
        refuse(file, "is a folder", "name a file in it");
    }
    int error = 0;
    if (there && !S_ISREG(old.st_mode)) {
        Descriptor out(::open(file.c_str(), O_WRONLY | O_CLOEXEC));
        error = out.number() < 0 ? errno : write_all(out.number(), bytes);
    } else {
        if (there && ((old.st_mode & 0222) == 0 || ::access(file.c_str(), W_OK) != 0)) {
            refuse(file, "is read-only", "allow writing to it (chmod u+w), or name another file");
        }
        const std::filesystem::path place = followed(file);
        error = there && old.st_nlink > 1 ? EPERM : replace(place, bytes, there ? &old : nullptr);
        if (there && (error == EPERM || error == EACCES)) {
            error = overwrite(place, bytes, old.st_size);
        }
    }
    if (error != 0) {
        refuse_to_write(file, error);
    }
}

#else

std::string read_whole_file(const std::filesystem::path& file, std::size_t most) {
    std::ifstream in(file, std::ios::binary);
    std::string text;
    std::array<char, 65536> piece{};
    while (in) {
        in.read(piece.data(), piece.size());
        text.append(piece.data(), static_cast<std::size_t>(in.gcount()));
        if (text.size() > most) {
            refuse_size(file, most);
        }
    }
    if (!in.eof()) {
        refuse(file, fmt::format("cannot be read: {}", std::strerror(errno)),
               "check the path and its permissions");
    }
    return text;
}

void write_whole_file(const std::filesystem::path& file, std::string_view bytes) {
    std::filesystem::path fresh;
    for (int i = 0; i == 0 || std::filesystem::exists(fresh); ++i) {
        fresh = file;
        fresh += fmt::format(".{}.fresh", i);
    }
    std::ofstream out(fresh, std::ios::binary);
    out.write(bytes.data(), static_cast<std::streamsize>(bytes.size()));
    out.close();
    int error = out ? 0 : errno;
    std::error_code renaming;
    if (error == 0) {
        std::filesystem::rename(fresh, file, renaming);
        error = renaming.value();
    }
    if (error != 0) {
        std::filesystem::remove(fresh, renaming);
        refuse_to_write(file, error);
    }
}

#endif

}  // namespace cursimeter
