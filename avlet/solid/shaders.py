"""The programs that run on the graphics card, or on Mesa's stand-in for one. GLSL 3.30.

Mesa's stand-in takes both sides of every branch, so what a body does not need is left out of its program: ``SHADED``, ``COVERED``,
``SHINING`` and ``ONLY_SHADOWS`` are set, or not, when it is built. Only loops are left early there.
"""

BODY_VERTEX = """
uniform mat4 body, view, sun_view;
uniform mat3 normals;
uniform float depth, edge_share;
uniform vec4 cover;
in vec4 place;
in vec3 normal;
in float part;
out vec3 at, facing;
out vec4 in_sun;
out vec2 on_cover;
flat out int of_part;
void main() {
    vec4 there = body * vec4(place.xy, place.z * depth + place.w * edge_share, 1.0);
    at = there.xyz;
    facing = normals * normal;
    in_sun = sun_view * there;
    on_cover = (place.xy - cover.xy) / max(cover.zw, vec2(1e-6));
    of_part = int(part + 0.5);
    gl_Position = view * there;
}
"""

BODY_FRAGMENT = """
uniform vec3 front, side, edge, sky, sun, to_sun, on_sheet, eye;
uniform float opacity, shine, sharp, soft_texels, texel, px_a_texel, nearness_a_px;
uniform vec3 sun_side, sun_down;
uniform sampler2DShadow shadow;
uniform sampler2D picture;
in vec3 at, facing;
in vec4 in_sun;
in vec2 on_cover;
flat in int of_part;
out vec4 colour;

vec3 to_srgb(vec3 light) {
    light = clamp(light, 0.0, 1.0);
    return mix(light * 12.92, 1.055 * pow(light, vec3(1.0 / 2.4)) - 0.055, step(0.0031308, light));
}
vec3 to_linear(vec3 srgb) {
    return mix(srgb / 12.92, pow((srgb + 0.055) / 1.055, vec3(2.4)), step(0.04045, srgb));
}
const vec2 INNER[12] = vec2[](
    vec2(-0.33, -1.0), vec2(0.33, -1.0), vec2(-1.0, -0.33), vec2(-0.33, -0.33), vec2(0.33, -0.33), vec2(1.0, -0.33),
    vec2(-1.0, 0.33), vec2(-0.33, 0.33), vec2(0.33, 0.33), vec2(1.0, 0.33), vec2(-0.33, 1.0), vec2(0.33, 1.0));
float lit(vec3 n, float lean) {
    vec3 there = in_sun.xyz * 0.5 + 0.5;
    if (any(lessThan(there, vec3(0.0))) || any(greaterThan(there, vec3(1.0)))) return 1.0;
    // What is looked at beside a point lies as deep as the plane through it does there, so that nothing shades itself.
    vec2 slope = clamp(vec2(dot(n, sun_side), dot(n, sun_down)) / max(lean, 0.08), -8.0, 8.0);
    float lift = (0.4 + 0.5 * px_a_texel) * (1.0 + abs(slope.x) + abs(slope.y)) * nearness_a_px;
    float nearer = px_a_texel * nearness_a_px, wide = max(soft_texels, 0.5), sum = 0.0;
    for (int n = 0; n < 4; n++) {
        vec2 beside = vec2(n % 2 * 2 - 1, n / 2 * 2 - 1) * wide;
        sum += textureLod(shadow, vec3(there.xy + beside * texel, there.z + dot(slope, beside) * nearer - lift), 0.0);
    }
    bool even = soft_texels < 0.75 || sum < 0.001 || sum > 3.999;  // what is all light, or all shadow, is most of a picture
    int more = even ? 0 : 12;
    for (int n = 0; n < more; n++) {
        vec2 beside = INNER[n] * wide;
        sum += textureLod(shadow, vec3(there.xy + beside * texel, there.z + dot(slope, beside) * nearer - lift), 0.0);
    }
    return sum / (even ? 4.0 : 16.0);
}
void main() {
    vec3 n = normalize(facing);
    if (!gl_FrontFacing && dot(n, eye - at) < 0.0) n = -n;
    float lean = max(0.0, dot(n, to_sun));
    float reached = float(lean > 0.0);
#ifdef SHADED
    reached *= lit(n, lean);
#endif
    vec3 light = (sky + sun * lean * reached) / on_sheet;
#ifdef ONLY_SHADOWS
    float dark = 1.0 - dot(to_srgb(light), vec3(1.0 / 3.0));
    colour = vec4(0.0, 0.0, 0.0, clamp(dark, 0.0, 1.0) * opacity);
#else
    vec4 own = vec4(of_part == 0 ? front : of_part == 1 ? side : edge, 1.0);
#ifdef COVERED
    if (of_part != 1) {
        vec4 cover = texture(picture, on_cover);
        own = vec4(to_linear(cover.a > 0.0 ? cover.rgb / cover.a : vec3(0.0)), cover.a);
        if (own.a <= 0.0) discard;
    }
#endif
    vec3 shown = own.rgb * light;
#ifdef SHINING
    vec3 halfway = normalize(to_sun + normalize(eye - at));
    shown += sun * shine * reached * pow(max(0.0, dot(n, halfway)), sharp);
#endif
    float seen = own.a * opacity;
    colour = vec4(to_srgb(shown) * seen, seen);
#endif
}
"""

SHADOW_VERTEX = """
uniform mat4 body, sun_view;
uniform float depth, edge_share;
in vec4 place;
void main() {
    gl_Position = sun_view * (body * vec4(place.xy, place.z * depth + place.w * edge_share, 1.0));
}
"""

SHADOW_FRAGMENT = """
void main() {}
"""


def built(source: str, *wanted: str) -> str:
    """A program's words with what it is built for."""
    return "\n".join(["#version 330", *(f"#define {name}" for name in wanted), source])
