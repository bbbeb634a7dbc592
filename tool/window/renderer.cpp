#include "window/renderer.hpp"

#define GL_GLEXT_PROTOTYPES
#include <GL/gl.h>
#include <GL/glext.h>
#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <cstddef>
#include <cursimeter/diagnostics.hpp>
#include <glm/geometric.hpp>
#include <glm/gtc/type_ptr.hpp>
#include <string>
#include <utility>

namespace cursimeter::tool {
namespace {

using tryout::paper;

/// Light from the sky and from a low lantern, and haze towards the paper of the pictures.
constexpr const char* lighting = R"glsl(
vec3 lit(vec3 colour, vec3 normal) {
    float sky = 0.5 + 0.5 * normal.z;
    float lantern = max(dot(normal, normalize(vec3(0.5, -0.35, 0.8))), 0.0);
    return colour * (mix(vec3(0.50, 0.54, 0.62), vec3(0.86, 0.87, 0.88), sky) + 0.22 * lantern * vec3(1.0, 0.9, 0.7));
}
vec3 hazy(vec3 colour, float far) {
    return mix(colour, vec3(0.93, 0.94, 0.945), 0.8 - 0.8 * exp(-far / 120.0));
}
)glsl";

// A face of a box has one normal, so all that follows from it is found for its corners: on software rendering each pixel counts.
constexpr const char* box_corners = R"glsl(
layout(location = 0) in vec3 corner;
layout(location = 1) in vec3 normal;
layout(location = 2) in vec3 middle;
layout(location = 3) in vec3 first;
layout(location = 4) in vec3 second;
layout(location = 5) in vec3 third;
layout(location = 6) in vec4 colour;
layout(location = 7) in float grid;
uniform mat4 camera;
uniform vec3 eye;
out vec3 away; out vec2 across;
flat out vec4 tint; flat out float lines;
void main() {
    vec3 place = middle + first * corner.x + second * corner.y + third * corner.z;
    vec3 facing = normalize(first * normal.x / dot(first, first) + second * normal.y / dot(second, second) + third * normal.z / dot(third, third));
    away = place - eye;
    across = abs(facing.z) > 0.5 ? place.xy : abs(facing.x) > 0.5 ? place.yz : place.xz;
    tint = vec4(lit(colour.rgb, facing), colour.a);
    lines = grid;
    gl_Position = camera * vec4(place, 1.0);
}
)glsl";
constexpr const char* box_pixels = R"glsl(
in vec3 away; in vec2 across;
flat in vec4 tint; flat in float lines;
out vec4 pixel;
void main() {
    vec3 colour = tint.rgb;
    float far = length(away);
    if (lines > 0.5) {
        vec2 width = fwidth(across) * 0.75 + 0.004;
        vec2 metre = smoothstep(width, vec2(0.0), abs(fract(across + 0.5) - 0.5));
        vec2 five = smoothstep(width * 1.6, vec2(0.0), abs(fract(across / 5.0 + 0.5) - 0.5) * 5.0);
        colour *= 1.0 - 0.13 * max(metre.x, metre.y) * exp(-far / 28.0) - 0.12 * max(five.x, five.y);
    }
    pixel = vec4(hazy(colour, far), tint.a);
}
)glsl";
constexpr const char* body_corners = R"glsl(
layout(location = 0) in vec3 corner;   // of a unit ball, z: -1 to 1
layout(location = 1) in vec3 normal;
uniform mat4 camera;
uniform vec3 feet;
uniform float radius, straight;  // straight: half of the middle part's height
out vec3 place; out vec3 facing;
void main() {
    place = feet + vec3(0.0, 0.0, radius + straight) + corner * radius + vec3(0.0, 0.0, corner.z >= 0.0 ? straight : -straight);
    facing = normal;
    gl_Position = camera * vec4(place, 1.0);
}
)glsl";
constexpr const char* body_pixels = R"glsl(
in vec3 place; in vec3 facing;
uniform vec3 eye;
uniform vec4 colour;
out vec4 pixel;
void main() { pixel = vec4(hazy(lit(colour.rgb, normalize(facing)), length(place - eye)), colour.a); }
)glsl";
constexpr const char* ribbon_corners = R"glsl(
layout(location = 0) in vec3 corner;
layout(location = 1) in vec4 colour;
uniform mat4 camera;
out vec4 tint;
void main() { tint = colour; gl_Position = camera * vec4(corner, 1.0); }
)glsl";
constexpr const char* ribbon_pixels = R"glsl(
in vec4 tint;
out vec4 pixel;
void main() { pixel = tint; }
)glsl";

GLuint shader(GLenum kind, const std::string& text) {
    const GLuint made = glCreateShader(kind);
    const char* source = text.c_str();
    glShaderSource(made, 1, &source, nullptr);
    glCompileShader(made);
    GLint fine = 0;
    glGetShaderiv(made, GL_COMPILE_STATUS, &fine);
    if (fine == 0) {
        std::array<char, 512> why{};
        glGetShaderInfoLog(made, static_cast<GLsizei>(why.size()), nullptr, why.data());
        throw ChartError({{"window",
                           fmt::format("this OpenGL takes no shader: {}", why.data()),
                           "use a driver with OpenGL 3.3",
                           {},
                           0,
                           0}});
    }
    return made;
}

GLuint program(const char* corners, const char* pixels) {
    const GLuint made = glCreateProgram();
    const GLuint first = shader(GL_VERTEX_SHADER, std::string("#version 330 core\n") + lighting + corners);
    const GLuint second = shader(GL_FRAGMENT_SHADER, std::string("#version 330 core\n") + lighting + pixels);
    glAttachShader(made, first);
    glAttachShader(made, second);
    glLinkProgram(made);
    glDeleteShader(first);
    glDeleteShader(second);
    return made;
}

void attribute(GLuint place, GLint size, GLsizei stride, std::size_t offset, GLuint divisor = 0) {
    glEnableVertexAttribArray(place);
    glVertexAttribPointer(place, size, GL_FLOAT, GL_FALSE, stride, reinterpret_cast<const void*>(offset));
    glVertexAttribDivisor(place, divisor);
}

struct Corner {
    glm::vec3 place, normal;
};

std::vector<Corner> cube_corners() {
    std::vector<Corner> corners;
    for (int axis = 0; axis < 3; ++axis) {
        for (const float side : {-1.0F, 1.0F}) {
            glm::vec3 normal(0.0F), u(0.0F), v(0.0F);
            normal[axis] = side;
            u[(axis + 1) % 3] = side;
            v[(axis + 2) % 3] = 1.0F;
            for (const auto& [a, b] : {std::pair{-1.0F, -1.0F},
                                       {1.0F, -1.0F},
                                       {1.0F, 1.0F},
                                       {-1.0F, -1.0F},
                                       {1.0F, 1.0F},
                                       {-1.0F, 1.0F}}) {
                corners.push_back({normal + u * a + v * b, normal});
            }
        }
    }
    return corners;
}

std::vector<Corner> ball_corners() {
    constexpr int around = 28, up = 16;
    constexpr double turn = 2.0 * 3.141592653589793;
    const auto at = [&](int i, int k) {
        const double angle = turn * i / around, height = turn * 0.5 * k / up - turn * 0.25;
        const glm::vec3 point(std::cos(angle) * std::cos(height), std::sin(angle) * std::cos(height),
                              std::sin(height));
        return Corner{point, point};
    };
    std::vector<Corner> corners;
    for (int k = 0; k < up; ++k) {
        for (int i = 0; i < around; ++i) {
            Corner low[2] = {at(i, k), at(i + 1, k)}, high[2] = {at(i, k + 1), at(i + 1, k + 1)};
            for (const Corner& corner : {low[0], low[1], high[1], low[0], high[1], high[0]}) {
                corners.push_back(corner);
            }
        }
    }
    return corners;
}

void uniform(GLuint program, const char* name, const glm::mat4& value) {
    glUniformMatrix4fv(glGetUniformLocation(program, name), 1, GL_FALSE, glm::value_ptr(value));
}
void uniform(GLuint program, const char* name, const glm::vec3& value) {
    glUniform3fv(glGetUniformLocation(program, name), 1, glm::value_ptr(value));
}
void uniform(GLuint program, const char* name, const glm::vec4& value) {
    glUniform4fv(glGetUniformLocation(program, name), 1, glm::value_ptr(value));
}
void uniform(GLuint program, const char* name, double value) {
    glUniform1f(glGetUniformLocation(program, name), static_cast<float>(value));
}

}  // namespace

Renderer::Renderer()
    : boxes_program_(program(box_corners, box_pixels)),
      body_program_(program(body_corners, body_pixels)),
      ribbon_program_(program(ribbon_corners, ribbon_pixels)) {
    const auto make = [](Mesh& mesh, const std::vector<Corner>& corners) {
        glGenVertexArrays(1, &mesh.array);
        glGenBuffers(1, &mesh.corners);
        glBindVertexArray(mesh.array);
        glBindBuffer(GL_ARRAY_BUFFER, mesh.corners);
        glBufferData(GL_ARRAY_BUFFER, static_cast<GLsizeiptr>(corners.size() * sizeof(Corner)),
                     corners.data(), GL_STATIC_DRAW);
        attribute(0, 3, sizeof(Corner), offsetof(Corner, place));
        attribute(1, 3, sizeof(Corner), offsetof(Corner, normal));
        mesh.count = static_cast<int>(corners.size());
    };
    make(cube_, cube_corners());
    glGenBuffers(1, &cube_.instances);
    glBindBuffer(GL_ARRAY_BUFFER, cube_.instances);
    attribute(2, 3, sizeof(DrawnBox), offsetof(DrawnBox, middle), 1);
    attribute(3, 3, sizeof(DrawnBox), offsetof(DrawnBox, first), 1);
    attribute(4, 3, sizeof(DrawnBox), offsetof(DrawnBox, second), 1);
    attribute(5, 3, sizeof(DrawnBox), offsetof(DrawnBox, third), 1);
    attribute(6, 4, sizeof(DrawnBox), offsetof(DrawnBox, colour), 1);
    attribute(7, 1, sizeof(DrawnBox), offsetof(DrawnBox, grid), 1);
    make(capsule_, ball_corners());
    glGenVertexArrays(1, &ribbon_.array);
    glGenBuffers(1, &ribbon_.corners);
    glBindVertexArray(ribbon_.array);
    glBindBuffer(GL_ARRAY_BUFFER, ribbon_.corners);
    attribute(0, 3, sizeof(RibbonPoint), offsetof(RibbonPoint, place));
    attribute(1, 4, sizeof(RibbonPoint), offsetof(RibbonPoint, colour));
    glBindVertexArray(0);
}

Renderer::~Renderer() {
    for (const Mesh& mesh : {cube_, capsule_, ribbon_}) {
        glDeleteVertexArrays(1, &mesh.array);
        glDeleteBuffers(1, &mesh.corners);
        glDeleteBuffers(1, &mesh.instances);
    }
    for (const unsigned made : {boxes_program_, body_program_, ribbon_program_}) {
        glDeleteProgram(made);
    }
}

void Renderer::begin(const Area& area, const glm::mat4& camera, const glm::dvec3& eye) {
    camera_ = camera;
    eye_ = glm::vec3(eye);
    glEnable(GL_SCISSOR_TEST);
    glScissor(area.x, area.y, area.width, area.height);
    glViewport(area.x, area.y, area.width, area.height);
    glClearColor(0.93F, 0.94F, 0.945F, 1.0F);
    glClear(GL_COLOR_BUFFER_BIT | GL_DEPTH_BUFFER_BIT);
    glEnable(GL_DEPTH_TEST);
    glDisable(GL_CULL_FACE);
    glCullFace(GL_BACK);
    glEnable(GL_BLEND);
    glBlendFunc(GL_SRC_ALPHA, GL_ONE_MINUS_SRC_ALPHA);
}

void Renderer::solids(const std::vector<DrawnBox>& boxes) {
    // The nearest first, and no face from behind: a pixel that is hidden costs nothing.
    const auto square_of_distance = [&](const DrawnBox& box) {
        float square = 0.0F;
        for (const glm::vec3& axis : {box.first, box.second, box.third}) {
            const float half = glm::length(axis);
            const float beyond = std::max(std::fabs(glm::dot(eye_ - box.middle, axis)) / half - half, 0.0F);
            square += beyond * beyond;
        }
        return square;
    };
    std::vector<std::pair<float, std::size_t>> nearest;
    for (std::size_t i = 0; i < boxes.size(); ++i) {
        nearest.emplace_back(square_of_distance(boxes[i]), i);
    }
    std::sort(nearest.begin(), nearest.end());
    std::vector<DrawnBox> in_order;
    for (const auto& [square, i] : nearest) {
        in_order.push_back(boxes[i]);
    }
    glEnable(GL_CULL_FACE);
    glDisable(GL_BLEND);
    this->boxes(in_order);
    glEnable(GL_BLEND);
    glDisable(GL_CULL_FACE);
}

void Renderer::boxes(const std::vector<DrawnBox>& boxes) {
    glUseProgram(boxes_program_);
    uniform(boxes_program_, "camera", camera_);
    uniform(boxes_program_, "eye", eye_);
    glBindVertexArray(cube_.array);
    glBindBuffer(GL_ARRAY_BUFFER, cube_.instances);
    glBufferData(GL_ARRAY_BUFFER, static_cast<GLsizeiptr>(boxes.size() * sizeof(DrawnBox)), boxes.data(),
                 GL_STREAM_DRAW);
    glDrawArraysInstanced(GL_TRIANGLES, 0, cube_.count, static_cast<GLsizei>(boxes.size()));
}

void Renderer::body(const DrawnBody& body) {
    glUseProgram(body_program_);
    uniform(body_program_, "camera", camera_);
    uniform(body_program_, "eye", eye_);
    uniform(body_program_, "feet", glm::vec3(body.feet));
    uniform(body_program_, "radius", body.body.radius);
    uniform(body_program_, "straight", 0.5 * (body.body.height - 2.0 * body.body.radius));
    uniform(body_program_, "colour", floats(body.colour));
    glBindVertexArray(capsule_.array);
    glEnable(GL_CULL_FACE);
    if (body.colour.alpha < 1.0) {  // the near parts hide those behind them
        glColorMask(GL_FALSE, GL_FALSE, GL_FALSE, GL_FALSE);
        glDrawArrays(GL_TRIANGLES, 0, capsule_.count);
        glColorMask(GL_TRUE, GL_TRUE, GL_TRUE, GL_TRUE);
        glDepthFunc(GL_LEQUAL);
    }
    glDrawArrays(GL_TRIANGLES, 0, capsule_.count);
    glDepthFunc(GL_LESS);
    glDisable(GL_CULL_FACE);
    // A nose where it looks, and a lantern-coloured brow: left and right are told apart by no eye otherwise.
    const auto ahead = glm::vec3(std::cos(body.yaw) * std::cos(body.pitch),
                                 std::sin(body.yaw) * std::cos(body.pitch), std::sin(body.pitch));
    const glm::vec3 side(-std::sin(body.yaw), std::cos(body.yaw), 0.0F);
    const glm::vec3 above(ahead.y * side.z - ahead.z * side.y, ahead.z * side.x - ahead.x * side.z,
                          ahead.x * side.y - ahead.y * side.x);
    const auto radius = static_cast<float>(body.body.radius);
    const glm::vec3 head =
        glm::vec3(body.feet) + glm::vec3(0.0F, 0.0F, static_cast<float>(body.body.height) - radius);
    glm::vec4 dark = floats(tryout::ink);
    dark.a = static_cast<float>(body.colour.alpha);
    boxes({{head + ahead * radius * 0.95F + above * radius * 0.15F, ahead * radius * 0.35F,
            side * radius * 0.55F, above * radius * 0.18F, dark, 0.0F}});
}

void Renderer::ribbon(const std::vector<RibbonPoint>& points) {
    if (points.size() < 4) {
        return;
    }
    glUseProgram(ribbon_program_);
    uniform(ribbon_program_, "camera", camera_);
    glBindVertexArray(ribbon_.array);
    glBindBuffer(GL_ARRAY_BUFFER, ribbon_.corners);
    glBufferData(GL_ARRAY_BUFFER, static_cast<GLsizeiptr>(points.size() * sizeof(RibbonPoint)), points.data(),
                 GL_STREAM_DRAW);
    glDrawArrays(GL_TRIANGLE_STRIP, 0, static_cast<GLsizei>(points.size()));
}

void Renderer::end() {
    glBindVertexArray(0);
    glUseProgram(0);
    glDisable(GL_SCISSOR_TEST);
    glDisable(GL_DEPTH_TEST);
}

}  // namespace cursimeter::tool
