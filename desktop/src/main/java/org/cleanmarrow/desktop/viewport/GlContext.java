package org.cleanmarrow.desktop.viewport;

import org.lwjgl.system.Platform;

/** An OpenGL 3.3 core context without a window to be seen. Belongs to the thread that made it. */
public interface GlContext extends AutoCloseable {
    /**
     * Makes a context of this machine's system and makes it current.
     *
     * @throws GlMissing with what is missing, for people
     */
    static GlContext create() throws GlMissing {
        return switch (Platform.get()) {
            case WINDOWS -> WglContext.create();
            case MACOSX -> CglContext.create();
            default -> EglContext.create();
        };
    }

    @Override
    void close();
}
