package org.juratest.server.record;

import com.openhtmltopdf.pdfboxout.PdfBoxRenderer;
import com.openhtmltopdf.pdfboxout.PdfRendererBuilder;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.Base64;
import java.util.Calendar;
import java.util.GregorianCalendar;
import java.util.Map;
import java.util.Optional;
import java.util.TimeZone;
import org.apache.pdfbox.cos.COSArray;
import org.apache.pdfbox.cos.COSName;
import org.apache.pdfbox.pdmodel.PDDocument;
import org.apache.pdfbox.pdmodel.PDDocumentNameDictionary;
import org.apache.pdfbox.pdmodel.PDEmbeddedFilesNameTreeNode;
import org.apache.pdfbox.pdmodel.common.filespecification.PDComplexFileSpecification;
import org.apache.pdfbox.pdmodel.common.filespecification.PDEmbeddedFile;
import org.juratest.server.blob.Blobs;
import org.juratest.server.paper.PaperPress;
import org.juratest.server.web.Picture;
import org.springframework.beans.factory.annotation.Value;
import org.springframework.stereotype.Component;

/**
 * A record as a PDF/A-3u (ISO 19005-3:2012): drawings are vectors, text is text in embedded fonts, and the record's
 * file is attached, so that paper and data cannot part.
 */
@Component
class RecordPdf {

    /** Name of the attached file. */
    static final String ATTACHED = "record.json";

    private final Blobs blobs;
    private final String address;
    private final PaperPress press;

    RecordPdf(Blobs blobs, PaperPress press, @Value("${juratest.public-address}") String address) {
        this.blobs = blobs;
        this.press = press;
        this.address = address.replaceAll("/+$", "");
    }

    /**
     * The report of a record.
     *
     * @param file the record's file, attached as it is
     */
    byte[] of(RecordView view, byte[] file) {
        String html = new RecordPaper(view, address + "/records/" + view.number(), this::photo, blobs::trace).html();
        PdfRendererBuilder builder =
                press.builder(html, "Juratest " + view.chain().software());
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try (PdfBoxRenderer renderer = builder.toStream(out).buildPdfRenderer()) {
            renderer.createPDFWithoutClosing();
            PDDocument document = renderer.getPdfDocument();
            attach(document, view, file);
            document.save(out);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return out.toByteArray();
    }

    /** Attaches the record's file as an associated file (ISO 32000-2, 7.11.4 and 14.13; ISO 19005-3, 6.8). */
    private static void attach(PDDocument document, RecordView view, byte[] file) throws IOException {
        PDEmbeddedFile embedded = new PDEmbeddedFile(document, new ByteArrayInputStream(file));
        embedded.setSubtype("application/json");
        embedded.setSize(file.length);
        Calendar made = GregorianCalendar.from(
                view.finishedAt().atZone(TimeZone.getTimeZone(view.zone()).toZoneId()));
        embedded.setCreationDate(made);
        embedded.setModDate(made);
        PDComplexFileSpecification specification = new PDComplexFileSpecification();
        specification.setFile(ATTACHED);
        specification.setFileUnicode(ATTACHED);
        specification.setFileDescription("Record " + view.number() + " with its events");
        specification.setEmbeddedFile(embedded);
        specification.setEmbeddedFileUnicode(embedded);
        specification.getCOSObject().setName("AFRelationship", "Data");
        PDEmbeddedFilesNameTreeNode tree = new PDEmbeddedFilesNameTreeNode();
        tree.setNames(Map.of(ATTACHED, specification));
        PDDocumentNameDictionary names = new PDDocumentNameDictionary(document.getDocumentCatalog());
        names.setEmbeddedFiles(tree);
        document.getDocumentCatalog().setNames(names);
        COSArray associated = new COSArray();
        associated.add(specification);
        document.getDocumentCatalog().getCOSObject().setItem(COSName.getPDFName("AF"), associated);
    }

    /** A photo as an address that holds it; empty if it is not stored any more, or cannot be printed. */
    private Optional<String> photo(String sha256) {
        return blobs.byHash(sha256)
                .filter(b -> Picture.isBearable(b.bytes()))
                .map(b -> "data:" + b.mediaType() + ";base64,"
                        + Base64.getEncoder().encodeToString(b.bytes()));
    }
}
