#pragma once

#include <cstdio>
#include <cursimeter/chartfile/file_kind.hpp>
#include <string>
#include <vector>

namespace cursimeter::tool {

/// A file that a call names; an empty name is none.
struct InputFile {
    std::string option;  ///< by which it is named, for messages
    std::string file;
};
struct OutputFile {
    std::string option;
    std::string file;
    FileKind kind = FileKind::unknown;  ///< that is written to it
};

/// All files of a call, judged before the first of them is opened.
struct CallFiles {
    std::vector<InputFile> inputs;
    std::vector<OutputFile> outputs;
    bool json = false;  ///< the call prints JSON to standard output
};

/// Throws ChartError with everything that is wrong: inputs that cannot be read; an output that is an input or another
/// output, under any of its names; one whose ending belongs to another kind of file, or that holds another kind
/// already; standard streams that are claimed twice.
void check_files(const CallFiles& files);

/// Where text for people goes: to standard error where an output is standard output.
[[nodiscard]] std::FILE* text_stream(const CallFiles& files);

/// A picture's kind by its name; "-" and what is no regular file get a PNG. `unknown` for a name that ends otherwise.
[[nodiscard]] FileKind picture_kind(const std::string& file);
/// An output for a picture, which must end in .png or .svg. Throws ChartError for another ending.
[[nodiscard]] OutputFile picture_output(const std::string& option, const std::string& file);

/// "wrote trace.csv" for each output that is a file.
void tell_written(const CallFiles& files);

}  // namespace cursimeter::tool
