layout(triangles) in;
layout(triangle_strip, max_vertices = 3) out;
uniform vec2 size;
in Vertex { vec3 world; vec3 normal; vec2 uv; float heat; vec3 tint; flat vec3 plain; vec3 painted; } v[];
out Face { vec3 world; vec3 normal; vec2 uv; float heat; vec3 tint; flat vec3 plain; vec3 painted; noperspective vec3 edge; } o;
void main() {
    vec2 p[3];
    for (int i = 0; i < 3; i++) p[i] = size * gl_in[i].gl_Position.xy / max(gl_in[i].gl_Position.w, 1e-6) * 0.5;
    float area = abs((p[1].x - p[0].x) * (p[2].y - p[0].y) - (p[2].x - p[0].x) * (p[1].y - p[0].y));
    for (int i = 0; i < 3; i++) {
        vec3 edge = vec3(0.0);
        edge[i] = area / max(length(p[(i + 1) % 3] - p[(i + 2) % 3]), 1e-4);
        o.world = v[i].world; o.normal = v[i].normal; o.uv = v[i].uv; o.heat = v[i].heat; o.tint = v[i].tint; o.plain = v[i].plain; o.painted = v[i].painted; o.edge = edge;
        gl_Position = gl_in[i].gl_Position;
        EmitVertex();
    }
    EndPrimitive();
}
