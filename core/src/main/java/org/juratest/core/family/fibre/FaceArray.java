package org.juratest.core.family.fibre;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/**
 * The end faces of a multi-fibre ferrule on one picture (IEC 61300-3-35): each that carries light is found, numbered
 * and judged by itself. Such ferrules are rectangular: core and cladding only.
 *
 * @param faces of the fibres that carry light, by number
 */
public record FaceArray(List<Face> faces) {

    /** The outermost diameter that is judged, um. */
    private static final double CLADDING = 115;
    /** How much of the picture about a face is looked at, um from its middle. */
    private static final double ABOUT = 78;
    /** Cores whose brightness differs by no more than this look alike, of white. */
    private static final double ALIKE = 0.06;
    /** One that differs by more than this from most others is covered. */
    private static final double OTHERWISE = 0.12;
    /** The share of cores that have to be alike, so that others are told by them. */
    private static final double MOSTLY = 0.5;
    /** How far a fibre may be from its place, um. */
    private static final double BESIDE = 14;

    public FaceArray {
        faces = List.copyOf(faces);
    }

    /**
     * The face of one fibre.
     *
     * @param number of the fibre, from 1
     * @param x middle of where it is, or should be, pixels
     * @param y likewise
     * @param face with its middle and its marks' pixels in {@code part}; absent where no fibre can be seen
     * @param part of the picture that was looked at
     * @param reason why it is not judged or what fails, in words; absent where all is well
     */
    public record Face(int number, double x, double y, @Nullable EndFace face, Part part, @Nullable String reason) {

        /** What comes of it: nobody knows of one that cannot be seen. */
        public EndFace.Verdict verdict() {
            return face == null ? EndFace.Verdict.NOT_JUDGED : face.verdict();
        }
    }

    /**
     * A part of a picture, pixels.
     *
     * @param width of the part
     */
    public record Part(int left, int top, int width) {

        /** Across of a pixel of the part, on the whole picture. */
        public int x(int pixel) {
            return left + pixel % width;
        }

        /** Down of a pixel of the part, on the whole picture. */
        public int y(int pixel) {
            return top + pixel / width;
        }
    }

    /** The worst of all faces: one that fails, else one that is not judged. */
    public EndFace.Verdict verdict() {
        boolean fails = faces.stream().anyMatch(f -> f.verdict() == EndFace.Verdict.FAIL);
        boolean open = faces.stream().anyMatch(f -> f.verdict() == EndFace.Verdict.NOT_JUDGED);
        return fails ? EndFace.Verdict.FAIL : open ? EndFace.Verdict.NOT_JUDGED : EndFace.Verdict.PASS;
    }

    /**
     * Looks at a picture.
     *
     * @param scale um a pixel, 0.05 to 10
     * @param table its zones beyond the cladding are left aside
     * @throws EndFace.NoFaceException if there is no array of this layout on it
     */
    public static FaceArray of(GreyPicture picture, double scale, ArrayLayout layout, EndFaceTable table) {
        if (!(scale >= 0.05 && scale <= 10)) {
            throw new IllegalArgumentException("a pixel of " + scale + " um, not 0.05 to 10");
        }
        EndFace.exposed(picture);
        ArrayPlace place = ArrayPlace.find(picture, scale, layout);
        if (place == null) {
            throw new EndFace.NoFaceException("no array of " + layout.rows() + " x " + layout.columns()
                    + " fibres is found: too little in the picture is a circle of 125 um in its place");
        }
        EndFaceTable own = table.within(CLADDING);
        List<Face> faces = new ArrayList<>();
        for (int number : layout.liveNumbers()) {
            faces.add(face(picture, scale, number, place.x(number), place.y(number), own, null));
        }
        double[] cores = faces.stream()
                .filter(f -> f.face != null)
                .mapToDouble(f -> Objects.requireNonNull(f.face).core())
                .toArray();
        double usual = Levels.median(cores);
        long alike =
                Arrays.stream(cores).filter(c -> Math.abs(c - usual) <= ALIKE).count();
        // Cores of one ferrule look alike: dirt just on a core is told by its neighbours.
        if (cores.length >= 4 && alike >= MOSTLY * cores.length) {
            faces.replaceAll(f -> f.face != null && Math.abs(f.face.core() - usual) > OTHERWISE
                    ? face(picture, scale, f.number, place.x(f.number), place.y(f.number), own, usual)
                    : f);
        }
        return new FaceArray(faces);
    }

    private static Face face(
            GreyPicture picture,
            double scale,
            int number,
            double x,
            double y,
            EndFaceTable table,
            @Nullable Double core) {
        int about = (int) Math.ceil(ABOUT / scale);
        int left = Math.max(0, (int) Math.round(x) - about);
        int top = Math.max(0, (int) Math.round(y) - about);
        int right = Math.min(picture.width(), (int) Math.round(x) + about + 1);
        int bottom = Math.min(picture.height(), (int) Math.round(y) + about + 1);
        Part part = new Part(left, top, Math.max(1, right - left));
        if (right - left < about || bottom - top < about) {
            return new Face(number, x, y, null, part, "it lies outside the picture");
        }
        EndFace face;
        try {
            face = EndFace.of(
                    picture.part(left, top, right, bottom), scale, table, new double[] {x - left, y - top}, core);
        } catch (EndFace.NoFaceException e) {
            return new Face(number, x, y, null, part, "no fibre can be seen in its place");
        }
        double foundX = left + face.x();
        double foundY = top + face.y();
        if (Math.hypot(foundX - x, foundY - y) * scale > BESIDE) {
            return new Face(number, x, y, null, part, "no fibre can be seen in its place");
        }
        return new Face(number, foundX, foundY, face, part, face.reason());
    }
}
