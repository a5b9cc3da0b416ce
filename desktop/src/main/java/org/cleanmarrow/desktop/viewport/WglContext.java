package org.cleanmarrow.desktop.viewport;

import static org.lwjgl.opengl.WGL.wglCreateContext;
import static org.lwjgl.opengl.WGL.wglDeleteContext;
import static org.lwjgl.opengl.WGL.wglMakeCurrent;
import static org.lwjgl.opengl.WGLARBCreateContext.WGL_CONTEXT_MAJOR_VERSION_ARB;
import static org.lwjgl.opengl.WGLARBCreateContext.WGL_CONTEXT_MINOR_VERSION_ARB;
import static org.lwjgl.opengl.WGLARBCreateContext.wglCreateContextAttribsARB;
import static org.lwjgl.opengl.WGLARBCreateContextProfile.WGL_CONTEXT_CORE_PROFILE_BIT_ARB;
import static org.lwjgl.opengl.WGLARBCreateContextProfile.WGL_CONTEXT_PROFILE_MASK_ARB;

import org.lwjgl.opengl.GL;
import org.lwjgl.system.MemoryStack;
import org.lwjgl.system.windows.GDI32;
import org.lwjgl.system.windows.PIXELFORMATDESCRIPTOR;
import org.lwjgl.system.windows.User32;
import org.lwjgl.system.windows.WindowsLibrary;

/** A context on a window that is never shown: Windows. Written from its reference and never run: there was no such machine. */
final class WglContext implements GlContext {
    private final long window;
    private final long device;
    private final long context;

    private WglContext(long window, long device, long context) {
        this.window = window;
        this.device = device;
        this.context = context;
    }

    static GlContext create() throws GlMissing {
        try {
            long window = User32.CreateWindowEx(
                    null, 0, "STATIC", "Clean Marrow", 0, 0, 0, 1, 1, 0, 0, WindowsLibrary.HINSTANCE, 0);
            if (window == 0) {
                throw new GlMissing("Windows gives no window to draw with");
            }
            long device = User32.GetDC(window);
            long context = onDevice(device);
            if (context == 0) {
                User32.ReleaseDC(window, device);
                User32.DestroyWindow(null, window);
                throw new GlMissing("OpenGL 3.3 is not to be had from this driver");
            }
            GL.createCapabilities();
            return new WglContext(window, device, context);
        } catch (LinkageError | IllegalStateException | NullPointerException e) {
            throw new GlMissing("OpenGL cannot be loaded (" + e.getMessage() + ")");
        }
    }

    /** A current context, or 0. A core profile is asked for through a context without one, as WGL wants it. */
    private static long onDevice(long device) {
        try (MemoryStack stack = MemoryStack.stackPush()) {
            PIXELFORMATDESCRIPTOR format = PIXELFORMATDESCRIPTOR
                    .calloc(stack)
                    .nSize((short) PIXELFORMATDESCRIPTOR.SIZEOF)
                    .nVersion((short) 1)
                    .dwFlags(GDI32.PFD_DRAW_TO_WINDOW | GDI32.PFD_SUPPORT_OPENGL)
                    .iPixelType(GDI32.PFD_TYPE_RGBA)
                    .cColorBits((byte) 32);
            int chosen = GDI32.ChoosePixelFormat(null, device, format);
            if (chosen == 0 || !GDI32.SetPixelFormat(null, device, chosen, format)) {
                return 0;
            }
            long first = wglCreateContext(null, device);
            if (first == 0) {
                return 0;
            }
            long context = 0;
            if (wglMakeCurrent(null, device, first) && GL.createCapabilitiesWGL().WGL_ARB_create_context_profile) {
                context = wglCreateContextAttribsARB(
                        device,
                        0,
                        stack.ints(
                                WGL_CONTEXT_MAJOR_VERSION_ARB,
                                3,
                                WGL_CONTEXT_MINOR_VERSION_ARB,
                                3,
                                WGL_CONTEXT_PROFILE_MASK_ARB,
                                WGL_CONTEXT_CORE_PROFILE_BIT_ARB,
                                0));
            }
            wglMakeCurrent(null, 0, 0);
            wglDeleteContext(null, first);
            if (context != 0 && !wglMakeCurrent(null, device, context)) {
                wglDeleteContext(null, context);
                return 0;
            }
            return context;
        }
    }

    @Override
    public void close() {
        GL.setCapabilities(null);
        wglMakeCurrent(null, 0, 0);
        wglDeleteContext(null, context);
        User32.ReleaseDC(window, device);
        User32.DestroyWindow(null, window);
    }
}
