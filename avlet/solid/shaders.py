"""The programs that run on the graphics card, or on Mesa's stand-in for one. GLSL 3.30.

Mesa's stand-in takes both sides of every branch, so what a body does not need is left out of its program: ``SHADED``, ``FADING``,
``LAMPS`` (how many), ``LAMPS_SHADED``, ``COVERED``, ``SHINING``, ``MASKED`` and ``ONLY_SHADOWS`` are set, or not, when it is built. Only
loops are left early there, and an array of constants costs each point that is drawn.
"""

FADING_MOST = 0.999
"""What is more opaque throws its shadow whole."""

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

_SHADOWS = """
// What a shadow map lets through, 0 to 1: a whole caster stops all light, one that fades as much as it is there.
#ifdef FADING
#define REACHES(map, faint, amount, there) (textureLod(map, there, 0.0) \\
    * (1.0 - (1.0 - textureLod(faint, there, 0.0)) * textureLod(amount, (there).xy, 0.0).r))
#else
#define REACHES(map, faint, amount, there) textureLod(map, there, 0.0)
#endif
// One of sixteen places in a square from -1 to 1, no two of them in one row or column: a level or upright edge that passes over
// them changes what is seen in sixteen even steps.
vec2 beside(int n) {
    vec2 cell = vec2(n % 4, n / 4);
    return (cell + cell.yx * 0.25 + 0.125) * 0.5 - 1.0;
}
#ifdef SHADED
uniform sampler2DShadow shadow, shadow_near, faint_shadow;
uniform sampler2D faint_amount;
uniform float soft_texels, texel, px_a_texel, nearness_a_px;
uniform vec3 sun_side, sun_down;
float sun_at(vec3 there, vec2 slope, vec2 beside, float lift) {
    // What is looked at beside a point lies as deep as the plane through it does there, so that nothing shades itself.
    vec3 looked = vec3(there.xy + beside * texel, there.z + dot(slope, beside) * px_a_texel * nearness_a_px - lift);
    return REACHES(shadow, faint_shadow, faint_amount, looked);
}
// The same, quicker and coarser, to tell what lies in a soft border from what does not.
float sun_near(vec3 there, vec2 slope, vec2 beside, float lift) {
#ifdef FADING
    return sun_at(there, slope, beside, lift);
#else
    return textureLod(shadow_near, vec3(there.xy + beside * texel, there.z + dot(slope, beside) * px_a_texel * nearness_a_px - lift), 0.0);
#endif
}
float sun_reaches(vec3 n, float lean) {
    vec3 there = in_sun.xyz * 0.5 + 0.5;
    vec2 slope = clamp(vec2(dot(n, sun_side), dot(n, sun_down)) / max(lean, 0.01), -100.0, 100.0);
    float lift = (0.4 + 0.5 * px_a_texel) * (1.0 + abs(slope.x) + abs(slope.y)) * nearness_a_px;
    float wide = max(soft_texels, 0.5);
    float sum = 0.0;
    for (int n = 0; n < 9; n++) sum += sun_near(there, slope, vec2(n % 3 - 1, n / 3 - 1) * wide, lift);
    bool outside = any(lessThan(there, vec3(0.0))) || any(greaterThan(there, vec3(1.0)));
    // What is all light, or all shadow, is most of a picture.
    bool even = sum < 0.001 || sum > 8.999 || lean <= 0.0 || outside;
    sum = even ? sum * 16.0 / 9.0 : 0.0;
    int more = even ? 0 : 16;
    for (int n = 0; n < more; n++) sum += sun_at(there, slope, beside(n) * wide, lift);
    return outside ? 1.0 : sum / 16.0;
}
#endif
#ifdef LAMPS
uniform vec3 lamp_at[LAMPS], lamp_light[LAMPS];
uniform vec2 lamp_reach[LAMPS];  // px at which half is left, and half the width of a soft border in px
uniform vec3 lamp_span;  // near, far, and how much of a tile a right angle takes
uniform float lamp_texel;  // of a tile, as a share of its half side
uniform sampler2DShadow lamp_shadow, lamp_faint;
uniform sampler2D lamp_amount;
float lamp_look(int k, float face, vec3 d, vec3 n, float ahead, vec2 on, float bias) {
    vec2 kept = clamp(on, -0.99 / lamp_span.z, 0.99 / lamp_span.z);
    vec3 way = vec3(kept, ahead);
    float lean = dot(n, way), far = dot(n, d) / (abs(lean) < 1e-4 ? 1e-4 : lean);
    // What is looked up is as deep as a plane may differ within the texels that a look mixes: more where light grazes it.
    float steep = min(length(n.xy) / max(abs(lean), 1e-3), 12.0);
    far = clamp(far, abs(d.z) * 0.5, abs(d.z) * 2.0) - 0.4 - bias * (1.0 + steep);
    float near = lamp_span.x, end = lamp_span.y;
    float z = ((end + near) / (end - near) - 2.0 * end * near / (end - near) / max(far, near)) * 0.5 + 0.5;
    vec2 tile = (kept * lamp_span.z * 0.5 + 0.5 + vec2(face, float(k))) / vec2(6.0, float(LAMPS));
    vec3 looked = vec3(tile, z);
    return REACHES(lamp_shadow, lamp_faint, lamp_amount, looked);
}
float lamp_reaches(int k, vec3 to, vec3 n) {
    // Turned so that the longest side of the way from the lamp is its third.
    vec3 d = -to, far_along = abs(d);
    float face = 4.0;
    vec3 normal = n;
    if (far_along.x >= far_along.y && far_along.x >= far_along.z) { d = d.yzx; normal = n.yzx; face = 0.0; }
    else if (far_along.y >= far_along.z) { d = d.zxy; normal = n.zxy; face = 2.0; }
    float ahead = d.z < 0.0 ? -1.0 : 1.0, far = max(abs(d.z), 1e-3);
    face += d.z < 0.0 ? 1.0 : 0.0;
    vec2 on = d.xy / far;
    float wide = max(lamp_reach[k].y / far, lamp_texel * 0.5), bias = lamp_texel * far;
    float sum = 0.0;
    for (int i = 0; i < 9; i++) sum += lamp_look(k, face, d, normal, ahead, on + vec2(i % 3 - 1, i / 3 - 1) * wide, bias);
    bool even = wide < lamp_texel * 0.75 || sum < 0.001 || sum > 8.999;
    sum = even ? sum * 16.0 / 9.0 : 0.0;
    int more = even ? 0 : 16;
    for (int i = 0; i < more; i++) sum += lamp_look(k, face, d, normal, ahead, on + beside(i) * wide, bias);
    return sum / 16.0;
}
#endif
"""

BODY_FRAGMENT = (
    """
uniform vec3 front, side, edge, sky, sun, to_sun, white, eye;
uniform float opacity, shine, sharp;
uniform vec3 mask_across, mask_down;
uniform sampler2D picture, mask;
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
"""
    + _SHADOWS
    + """
void main() {
    vec3 n = normalize(facing);
    if (!gl_FrontFacing && dot(n, eye - at) < 0.0) n = -n;
    float lean = max(0.0, dot(n, to_sun));
    float reached = float(lean > 0.0);
#ifdef SHADED
    reached *= sun_reaches(n, lean);
#endif
    vec3 light = sky + sun * lean * reached, unshaded = sky + sun * lean, mirrored = vec3(0.0);
#ifdef SHINING
    vec3 to_eye = normalize(eye - at);
    mirrored = sun * reached * pow(max(0.0, dot(n, normalize(to_sun + to_eye))), sharp);
#endif
#ifdef LAMPS
    for (int k = 0; k < LAMPS; k++) {
        vec3 to = lamp_at[k] - at;
        float away = max(length(to), 1e-3), share = away / lamp_reach[k].x;
        vec3 to_lamp = to / away, here = lamp_light[k] / (1.0 + share * share);
        float leans = max(0.0, dot(n, to_lamp));
#ifdef LAMPS_SHADED
        float comes = leans > 0.0 ? lamp_reaches(k, to, n) : 0.0;
#else
        float comes = float(leans > 0.0);
#endif
        light += here * leans * comes;
        unshaded += here * leans;
#ifdef SHINING
        mirrored += here * comes * pow(max(0.0, dot(n, normalize(to_lamp + to_eye))), sharp);
#endif
    }
#endif
#ifdef ONLY_SHADOWS
    vec3 share = light / max(unshaded, vec3(1e-4));
    float dark = 1.0 - dot(to_srgb(share), vec3(1.0 / 3.0));
    vec4 shown = vec4(0.0, 0.0, 0.0, clamp(dark, 0.0, 1.0));
#else
    vec4 own = vec4(of_part == 0 ? front : of_part == 1 ? side : edge, 1.0);
#ifdef COVERED
    if (of_part != 1) {
        vec4 cover = texture(picture, on_cover);
        own = vec4(to_linear(cover.a > 0.0 ? cover.rgb / cover.a : vec3(0.0)), cover.a);
        if (own.a <= 0.0) discard;
    }
#endif
    vec4 shown = vec4(to_srgb(own.rgb * light / white + mirrored * shine), own.a);
#endif
    float seen = shown.a * opacity;
#ifdef MASKED
    vec3 on_mask = vec3(gl_FragCoord.xy, 1.0);
    seen *= texture(mask, vec2(dot(mask_across, on_mask), dot(mask_down, on_mask))).r;
    if (seen <= 0.0) discard;
#endif
    colour = vec4(shown.rgb * seen, seen);
#ifdef LAMPS
    // Light that fades away from a lamp would lie in rings of one step of 255 each: less than a step either way, evenly spread, parts them
    // (interleaved gradient noise; Jimenez 2014, from memory).
    float uneven = fract(52.9829189 * fract(dot(floor(gl_FragCoord.xy), vec2(0.06711056, 0.00583715)))) - 0.5;
    colour.rgb = clamp(colour.rgb + uneven * 0.98 / 255.0 * seen, 0.0, seen);
#endif
}
"""
)

SHEET_VERTEX = """
void main() {
    gl_Position = vec4(gl_VertexID == 1 ? 3.0 : -1.0, gl_VertexID == 2 ? 3.0 : -1.0, -1.0, 1.0);
}
"""

SHEET_FRAGMENT = """
uniform sampler2D mask;
out vec4 colour;
void main() {
    if (texelFetch(mask, ivec2(gl_FragCoord.xy), 0).r < 0.5) discard;
    colour = vec4(0.0);
}
"""

SHADOW_VERTEX = """
uniform mat4 body, seen;
uniform float depth, edge_share;
in vec4 place;
void main() {
    gl_Position = seen * (body * vec4(place.xy, place.z * depth + place.w * edge_share, 1.0));
}
"""

SHADOW_FRAGMENT = """
uniform float opacity;
out vec4 amount;
void main() {
    amount = vec4(opacity);
}
"""


def built(source: str, *wanted: str) -> str:
    """A program's words with what it is built for: names, or names with a value after a blank."""
    return "\n".join(["#version 330", *(f"#define {name}" for name in wanted), source])
