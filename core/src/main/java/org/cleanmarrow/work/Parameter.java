package org.cleanmarrow.work;

import java.lang.annotation.ElementType;
import java.lang.annotation.Retention;
import java.lang.annotation.RetentionPolicy;
import java.lang.annotation.Target;

/** What a step's parameter means, and its default as JSON text; without a default it must be given. */
@Retention(RetentionPolicy.RUNTIME)
@Target(ElementType.RECORD_COMPONENT)
public @interface Parameter {
    String says();

    String fallback() default "";
}
