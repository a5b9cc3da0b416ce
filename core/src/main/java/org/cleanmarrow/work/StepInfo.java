package org.cleanmarrow.work;

import java.lang.annotation.ElementType;
import java.lang.annotation.Retention;
import java.lang.annotation.RetentionPolicy;
import java.lang.annotation.Target;

/** What a step is called in a ledger, and what it does in one sentence. */
@Retention(RetentionPolicy.RUNTIME)
@Target(ElementType.TYPE)
public @interface StepInfo {
    String name();

    String says();

    /** Names it had in earlier ledgers, which are read for ever. */
    String[] formerly() default {};
}
