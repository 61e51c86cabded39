package org.juratest.core.family.fibre;

import java.util.List;
import org.juratest.core.method.Method;
import org.juratest.core.method.MethodFamily;
import org.juratest.core.standard.StandardTable;

/** The methods for fibre links and cables. */
public final class FibreMethods implements MethodFamily {

    @Override
    public List<Method> methods() {
        return List.of(
                new LightCheck(),
                new LaunchMethod(),
                new TraceMethod(),
                new BothWaysMethod(),
                new BendMethod(),
                new EndFaceMethod(),
                new ArrayFaceMethod(),
                new ReturnReference(),
                new LossReference(),
                new PolarityMethod(),
                new InsertionLoss());
    }

    @Override
    public List<StandardTable> tables() {
        return EndFaceTable.shipped();
    }

    @Override
    public void check(StandardTable table) {
        EndFaceTable.of(table);
    }
}
