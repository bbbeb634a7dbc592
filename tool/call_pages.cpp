#include "call_pages.hpp"

#include <fmt/format.h>

#include <cursimeter/version.hpp>

namespace cursimeter::tool {
namespace {

std::vector<const CLI::App*> subcommands_of(const CLI::App& app) {
    return app.get_subcommands([](const CLI::App* sub) { return !sub->get_group().empty(); });
}

/// "--drill -d": all names of an option, those that are long first; of an argument, none.
std::vector<std::string> names_of(const CLI::Option& option) {
    std::vector<std::string> names;
    for (const std::string& name : option.get_lnames()) {
        names.push_back("--" + name);
    }
    for (const std::string& name : option.get_snames()) {
        names.push_back("-" + name);
    }
    return names;
}

std::string words_of(const CLI::App& command) {
    std::string words;
    for (const CLI::Option* option : command.get_options()) {
        for (const std::string& name : names_of(*option)) {
            words += (words.empty() ? "" : " ") + name;
        }
    }
    return words;
}

std::string command_names(const CLI::App& app) {
    std::string names = "help";
    for (const CLI::App* sub : subcommands_of(app)) {
        names += " " + sub->get_name();
    }
    return names;
}

std::string bash_script(const CLI::App& app) {
    std::string script = fmt::format(
        "# Completion of cursimeter for bash.\n_cursimeter() {{\n    local word=${{COMP_WORDS[COMP_CWORD]}} "
        "words=\n"
        "    if [ \"$COMP_CWORD\" -eq 1 ]; then\n        words='{} --help --version'\n    else\n"
        "        case ${{COMP_WORDS[1]}} in\n",
        command_names(app));
    for (const CLI::App* sub : subcommands_of(app)) {
        script += fmt::format("            {}) words='{}' ;;\n", sub->get_name(), words_of(*sub));
    }
    return script +
           "        esac\n    fi\n    if [[ $word == -* || $COMP_CWORD -eq 1 ]]; then\n"
           "        mapfile -t COMPREPLY < <(compgen -W \"$words\" -- \"$word\")\n"
           "    else\n        compopt -o filenames\n        mapfile -t COMPREPLY < <(compgen -f -- "
           "\"$word\")\n"
           "    fi\n}\ncomplete -F _cursimeter cursimeter\n";
}

/// In single quotes for zsh and fish.
std::string in_quotes(std::string_view text) {
    std::string told = "'";
    for (const char c : text) {
        told += c == '\'' ? std::string("'\\''") : std::string(1, c);
    }
    return told + "'";
}

std::string zsh_script(const CLI::App& app) {
    std::string script =
        "#compdef cursimeter\n# Completion of cursimeter for zsh.\nlocal -a commands\nif (( CURRENT == 2 )); "
        "then\n"
        "    commands=(\n";
    for (const CLI::App* sub : subcommands_of(app)) {
        script += "        " + in_quotes(sub->get_name() + ":" + sub->get_description()) + "\n";
    }
    script += "    )\n    _describe command commands\nelse\n    case $words[2] in\n";
    for (const CLI::App* sub : subcommands_of(app)) {
        script += fmt::format("        {}) compadd -- {}; _files ;;\n", sub->get_name(), words_of(*sub));
    }
    return script + "    esac\nfi\n";
}

std::string fish_script(const CLI::App& app) {
    std::string script = "# Completion of cursimeter for fish.\n";
    for (const CLI::App* sub : subcommands_of(app)) {
        script += fmt::format("complete -c cursimeter -n __fish_use_subcommand -f -a {} -d {}\n",
                              sub->get_name(), in_quotes(sub->get_description()));
        for (const CLI::Option* option : sub->get_options()) {
            std::string names;
            for (const std::string& name : option->get_lnames()) {
                names += " -l " + name;
            }
            for (const std::string& name : option->get_snames()) {
                names += " -s " + name;
            }
            if (!names.empty()) {
                script += fmt::format("complete -c cursimeter -n '__fish_seen_subcommand_from {}'{} -d {}\n",
                                      sub->get_name(), names, in_quotes(option->get_description()));
            }
        }
    }
    return script;
}

/// Text for roff: what it would take for a command is escaped.
std::string roff(std::string_view text) {
    std::string told;
    for (const char c : text) {
        if ((c == '.' || c == '\'') && (told.empty() || told.back() == '\n')) {
            told += "\\&";
        }
        told += c == '\\' ? std::string("\\e") : c == '-' ? std::string("\\-") : std::string(1, c);
    }
    return told;
}

std::string manual_of(const CLI::App& command) {
    std::string page;
    for (const CLI::Option* option : command.get_options()) {
        std::string names;
        for (const std::string& name : names_of(*option)) {
            names += (names.empty() ? "" : ", ") + name;
        }
        page += fmt::format(".TP\n.B {}\n{}\n", roff(names.empty() ? option->get_name() : names),
                            roff(option->get_description()));
    }
    if (!command.get_footer().empty()) {
        page += fmt::format(".PP\n.nf\n{}\n.fi\n", roff(command.get_footer()));
    }
    return page;
}

}  // namespace

std::string completion_script(const CLI::App& app, const std::string& shell) {
    return shell == "bash" ? bash_script(app) : shell == "zsh" ? zsh_script(app) : fish_script(app);
}

std::string manual_page(const CLI::App& app) {
    std::string page = fmt::format(
        ".TH CURSIMETER 1 \"\" \"cursimeter {}\"\n.SH NAME\ncursimeter \\- {}\n.SH SYNOPSIS\n.B "
        "cursimeter\n.I COMMAND\n"
        "[options]\n.SH DESCRIPTION\nReads charts, drills and courses (TOML files), and prints for a person, "
        "or with \\-\\-json for "
        "a program.\nA file named \\- is standard input or output.\n.SH EXIT STATUS\n0 fine; 1 something "
        "wrong was found in what it "
        "was given to check; 2 unusable call or input.\n",
        CURSIMETER_VERSION_TEXT, roff("builds, runs and explains character locomotion from charts"));
    for (const CLI::App* sub : subcommands_of(app)) {
        page += fmt::format(".SH {}\n{}.\n", roff(sub->get_name()), roff(sub->get_description())) +
                manual_of(*sub);
    }
    return page;
}

}  // namespace cursimeter::tool
