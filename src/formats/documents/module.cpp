#include "formats/documents/module.h"

#include "formats/documents/documents.h"

const pecorra::Documents pecorra_documents{pecorra::module::pdf_with_cells, pecorra::module::read_pdf_form,
                                           pecorra::module::xlsx_of};
